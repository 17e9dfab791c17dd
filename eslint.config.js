import js from '@eslint/js'
import ts from 'typescript-eslint'
import hooks from 'eslint-plugin-react-hooks'

export default ts.config(
  { ignores: ['**/dist/**', 'build/**', '**/node_modules/**', '.demo/**', '**/*.cjs'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    files: ['packages/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: hooks.configs['recommended-latest'].rules,
  },
  {
    files: ['**/*.mjs'],
    languageOptions: { globals: { process: 'readonly', console: 'readonly', URL: 'readonly', Buffer: 'readonly' } },
  },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': [
        'error',
        { ignoreRestSiblings: true, argsIgnorePattern: '^_', destructuredArrayIgnorePattern: '^_' },
      ],
      'no-console': ['error', { allow: ['error', 'warn'] }],
      eqeqeq: 'error',
      'prefer-const': 'error',
    },
  },
  // Playwright reads a fixture's needs off its first parameter, which may be none.
  { files: ['e2e/**'], rules: { 'no-empty-pattern': 'off' } },
  { files: ['scripts/**', 'packages/*/src/**/main.ts'], rules: { 'no-console': 'off' } },
)
