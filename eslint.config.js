import tseslint from 'typescript-eslint';
import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';

/** No clock, chance, network, process or page: values in, values out. */
const IMPURE = [
  'fetch',
  'crypto',
  'process',
  'document',
  'window',
  'setTimeout',
  'setInterval',
  'performance',
];

export default tseslint.config(
  { ignores: ['**/*.astro', 'dist/', '.data/', '.astro/', 'node_modules/'] },
  ...tseslint.configs.recommended,
  {
    files: ['src/ui/**/*.tsx'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
  { files: ['src/ui/**/*.tsx'], ...a11y.flatConfigs.recommended },
  {
    files: ['src/ui/**/*.tsx'],
    rules: {
      // What was just opened takes the focus.
      'jsx-a11y/no-autofocus': 'off',
      // What scrolls has to be reached by keyboard.
      'jsx-a11y/no-noninteractive-tabindex': [
        'error',
        { tags: ['pre', 'main', 'aside', 'nav', 'output'], roles: ['region', 'group', 'separator'] },
      ],
      // Keys are listened for on what holds the controls; a press beside a dialog closes it, as Escape does.
      'jsx-a11y/no-noninteractive-element-interactions': [
        'error',
        { handlers: ['onClick'], dialog: ['onClick'] },
      ],
      'jsx-a11y/no-static-element-interactions': ['error', { handlers: ['onClick'] }],
      // Options are chosen by the keys of their list.
      'jsx-a11y/click-events-have-key-events': 'off',
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['src/core/**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', ...IMPURE],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now' },
        { object: 'Math', property: 'random' },
      ],
      'no-restricted-syntax': ['error', "NewExpression[callee.name='Date'][arguments.length=0]"],
    },
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
