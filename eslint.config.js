import tseslint from 'typescript-eslint';
import hooks from 'eslint-plugin-react-hooks';

export default tseslint.config(
  { ignores: ['**/*.astro', 'dist/', '.data/', '.astro/', 'node_modules/'] },
  ...tseslint.configs.recommended,
  {
    files: ['src/ui/**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      'no-restricted-exports': ['error', { restrictDefaultExports: { direct: true } }],
    },
  },
  {
    files: ['astro.config.ts', 'eslint.config.js', 'vitest.config.ts', 'tests/database.ts'],
    rules: { 'no-restricted-exports': 'off' },
  },
);
