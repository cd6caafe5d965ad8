/** The house's one-way streets: web → core ← server, demo → core, and inside core from the values up. */
const within = (part) => `^core/src/${part}/`;
const rule = (name, from, to, comment) => ({ name, severity: 'error', comment, from, to });

module.exports = {
  forbidden: [
    rule('no-circle', {}, { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } }, 'A circle has no beginning to read it from.'),
    {
      name: 'no-circle-of-folders',
      severity: 'error',
      comment: 'A folder of core and of the server is read after those that it builds on.',
      scope: 'folder',
      from: { path: '^(core|server)/src' },
      to: { circular: true },
    },
    rule(
      'core-is-pure',
      { path: '^core/src', pathNot: '\\.test\\.ts$' },
      {
        path: '^(server|web|demo|e2e|scripts)/|^node_modules/(?!zod|decimal\\.js|lezer-feel|@lezer|luxon|re2js|libphonenumber-js|@eslint-community/regexpp)',
        dependencyTypesNot: ['type-only'],
      },
      'core knows packages that compute, and none that touches the world.',
    ),
    rule('core-no-node', { path: '^core/src', pathNot: '\\.test\\.ts$' }, { dependencyTypes: ['core'] }, 'core runs in the browser too.'),
    rule('web-not-server', { path: '^web/src' }, { path: '^(server|demo|e2e|scripts)/' }, 'The web side knows the server by its contract alone.'),
    rule(
      'server-not-web',
      { path: '^server/src' },
      { path: '^(web|demo/src/(?!starters/)|e2e|scripts)/' },
      'The server knows no screens, and of the demo only the designs to start from.',
    ),
    rule('demo-only-core', { path: '^demo/src' }, { path: '^(web|server|e2e|scripts)/' }, 'The demo is data.'),
    rule('values-below', { path: within('values') }, { path: '^core/src/(?!values/)' }, 'values stand at the bottom.'),
    rule(
      'query-below-access',
      { path: within('query'), pathNot: '\\.test\\.ts$' },
      { path: '^core/src/(access|record|import|contract)/' },
      'A query does not know who asks.',
    ),
    rule('language-below', { path: within('feel'), pathNot: '\\.test\\.ts$' }, { path: '^core/src/(?!feel/|values/|sql/)' }, 'The language knows no app.'),
    rule(
      'fields-below',
      { path: within('fields'), pathNot: '\\.test\\.ts$' },
      { path: '^core/src/(?!fields/|feel/|values/|sql/|shapes/)' },
      'A kind of field knows no design that it is part of.',
    ),
    rule(
      'design-below',
      { path: within('design') },
      { path: '^core/src/(?!design/|fields/|feel/|values/|sql/|shapes/)' },
      'The design is read by all and reads none of them.',
    ),
    rule(
      'no-deep-core',
      { path: '^(server|web|demo|e2e|scripts)/' },
      { path: '^core/src/(?!(?:index|language)\\.ts$)' },
      'core is entered through its index, or its language.',
    ),
    rule(
      'drafts-know-no-screen',
      { path: '^web/src/desk/record/(draft|draft-source|duplicate|fills|form-values|saving)\\.ts$' },
      { path: '^node_modules/(react|@tanstack)', dependencyTypesNot: ['type-only'] },
      'What a form saves is decided without one.',
    ),
    rule('areas-through-services', { path: '^web/src/desk' }, { path: '^web/src/workshop' }, 'Who works at the Desk never loads the Workshop.'),
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    // Tests look at everything; their samples are designs.
    exclude: { path: '\\.test\\.ts$|/sample\\.ts$' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types', 'default'], extensions: ['.ts', '.tsx', '.js', '.mjs'] },
    extraExtensionsToScan: [],
  },
};
