import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

// The one path for reading and the one for writing are kept by these two rules, besides the types:
const noSqlElsewhere = {
  selector: "CallExpression[callee.property.name='query']",
  message: 'Only server/src/db runs SQL. Compile a statement in core and hand it to `run`.',
};
const noForgedBrand = {
  selector: 'TSAsExpression > TSTypeReference[typeName.name=/^(RestrictedQuery|Permit|Statement)$/]',
  message: 'Only `restrict`, `permit` and SqlBuilder make these: a cast would go around access.',
};

export default ts.config(
  { ignores: ['**/node_modules/**', '**/dist/**', '.data/**'] },
  js.configs.recommended,
  ...ts.configs.recommendedTypeChecked,
  {
    files: ['**/*.{ts,tsx,mts}'],
    languageOptions: { parserOptions: { projectService: { allowDefaultProject: ['*.ts'] }, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/require-await': 'off',
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-unused-expressions': ['error', { allowShortCircuit: true, allowTernary: true, enforceForJSX: true }],
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
      // A value's kind is known where it is printed; the rule cannot see that.
      '@typescript-eslint/no-base-to-string': 'off',
      'no-console': 'off',
      'no-control-regex': 'off',
      'no-restricted-syntax': ['error', noSqlElsewhere, noForgedBrand],
    },
  },
  {
    files: ['server/src/db/**', '**/*.test.ts', 'scripts/**', 'e2e/**', 'server/test/**', 'server/src/apps/probes.ts'],
    rules: { 'no-restricted-syntax': ['error', noForgedBrand] },
  },
  { files: ['core/src/access/access.ts', 'core/src/sql/sql.ts'], rules: { 'no-restricted-syntax': ['error', noSqlElsewhere] } },
  { files: ['server/src/imports/run-import.ts'], rules: { 'no-restricted-syntax': ['error', noForgedBrand] } },
  { files: ['web/**/*.{ts,tsx}'], plugins: { 'react-hooks': hooks }, rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' } },
  {
    files: ['**/*.{js,mjs,cjs}'],
    extends: [ts.configs.disableTypeChecked],
    languageOptions: { globals: { process: 'readonly', console: 'readonly', module: 'readonly', URL: 'readonly' } },
  },
  { files: ['web/public/**'], languageOptions: { globals: { window: 'readonly', document: 'readonly', customElements: 'readonly', HTMLElement: 'readonly' } } },
);
