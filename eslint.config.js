import js from '@eslint/js';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  { ignores: ['dist', 'data', 'coverage', '.cache', 'node_modules', 'kernel'] },
  js.configs.recommended,
  ...tseslint.configs.strict,
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      eqeqeq: 'error',
      'no-console': 'off',
      'no-control-regex': 'off',
    },
  },
  {
    files: ['src/**/*.ts', 'src/**/*.tsx', 'test/**/*.ts', 'scripts/**/*.ts'],
    languageOptions: { parserOptions: { project: 'tsconfig.json' } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-globals': ['error', 'process', 'window', 'document', 'fetch', 'localStorage', 'performance', 'setTimeout', 'setInterval'],
      'no-restricted-properties': ['error', { object: 'Math', property: 'random' }, { object: 'Date', property: 'now' }],
      'no-restricted-syntax': ['error', { selector: "NewExpression[callee.name='Date']", message: 'The core has no clock of its own.' }],
    },
  },
  { files: ['src/web/**/*.{ts,tsx}'], ...reactHooks.configs.flat['recommended-latest'] },
  // In a test a `!` that is wrong is a failing test.
  { files: ['test/**/*.ts'], rules: { '@typescript-eslint/no-unused-expressions': 'off', '@typescript-eslint/no-non-null-assertion': 'off' } },
  { files: ['**/*.mjs', '**/*.cjs'], languageOptions: { globals: { process: 'readonly', console: 'readonly', performance: 'readonly', URL: 'readonly', module: 'writable' } } },
);
