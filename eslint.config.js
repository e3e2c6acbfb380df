import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import hooks from 'eslint-plugin-react-hooks'
import redos from 'eslint-plugin-redos'
import globals from 'globals'
import tseslint from 'typescript-eslint'

export default tseslint.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.insel/**', 'apps/web/public/**'] },
  js.configs.recommended,
  ...tseslint.configs.strictTypeChecked,
  {
    languageOptions: {
      globals: globals.node,
      parserOptions: { project: ['./scripts/tsconfig.json', './apps/web/tsconfig.json'], tsconfigRootDir: import.meta.dirname },
    },
    rules: {
      // Numbers in sentences are wanted; the rest of the rule stays.
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/no-confusing-void-expression': 'off',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      '@typescript-eslint/no-extraneous-class': ['error', { allowWithDecorator: true, allowStaticOnly: true }],
      // Methods of our interfaces are closures; the few classes bind nothing.
      '@typescript-eslint/unbound-method': 'off',
      '@typescript-eslint/no-base-to-string': 'off',
      // Data that crossed a wire or a table is narrowed by hand where it comes in.
      '@typescript-eslint/no-unnecessary-type-parameters': 'off',
      // These two cannot fire here: there are no enums of ours, and a class with private members takes no look-alike.
      '@typescript-eslint/no-unsafe-enum-assignment': 'off',
      '@typescript-eslint/no-unsafe-class-instance-assignment': 'off',
      'no-restricted-syntax': ['error', { selector: 'TSNonNullExpression', message: 'Say what happens when it is missing.' }],
    },
  },
  // Nest finds dependencies by the classes that stand in constructors: they must be imported as values.
  {
    files: ['apps/server/**'],
    rules: { '@typescript-eslint/consistent-type-imports': 'off' },
  },
  {
    files: ['apps/web/**'],
    plugins: { 'react-hooks': hooks },
    languageOptions: { globals: globals.browser },
    rules: { ...hooks.configs.recommended.rules, 'react-hooks/incompatible-library': 'off' },
  },
  // An expression that a text can make run for minutes stops the server: none whose time grows faster than the text.
  {
    files: ['packages/*/src/**', 'apps/*/src/**', 'scripts/**'],
    ignores: ['**/*.test.{ts,tsx}', '**/testing/**'],
    plugins: { redos },
    rules: { 'redos/no-vulnerable': ['error', { timeout: 20_000, ignoreErrors: false }] },
  },
  {
    files: ['**/*.test.ts', '**/testing/**', 'e2e/**'],
    rules: {
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
      '@typescript-eslint/no-unsafe-argument': 'off',
      '@typescript-eslint/no-unsafe-call': 'off',
    },
  },
  { files: ['**/*.js', '**/*.cjs', '**/*.mjs'], ...tseslint.configs.disableTypeChecked },
  prettier,
)
