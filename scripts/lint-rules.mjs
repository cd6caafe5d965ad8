/** The one path for reading and the one for writing are kept by these two rules, besides the types. */

/**
 * A rule that nothing matches a selector.
 * @param {string} selector
 * @param {string} message
 */
const rule = (selector, message) => ({
  meta: { type: 'problem' },
  /** @param {{ report: (found: { node: unknown, message: string }) => void }} context */
  create: (context) => ({ [selector]: (/** @type {unknown} */ node) => context.report({ node, message }) }),
});

export default {
  meta: { name: 'bibliona' },
  rules: {
    'no-sql-elsewhere': rule("CallExpression[callee.property.name='query']", 'Only server/src/db runs SQL. Compile a statement in core and hand it to `run`.'),
    'no-forged-brand': rule(
      'TSAsExpression > TSTypeReference[typeName.name=/^(RestrictedQuery|Permit|Statement)$/]',
      'Only `restrict`, `permit` and SqlBuilder make these: a cast would go around access.',
    ),
  },
};
