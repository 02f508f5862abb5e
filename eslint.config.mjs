import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  {
    ignores: [
      '**/dist/**',
      '**/node_modules/**',
      '**/drizzle/**',
      '.demo/**',
      'test-results/**',
      'data/**',
      '.results/**',
    ],
  },
  ...ts.configs.recommended,
  ...vue.configs['flat/essential'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/no-non-null-assertion': 'off',
      'vue/multi-word-component-names': 'off',
      // A slip's line is one object with one owner; its row edits it in place.
      'vue/no-mutating-props': 'off',
      // Nested reads of the query builder round big integers in silence.
      'no-restricted-syntax': [
        'error',
        {
          selector: "MemberExpression[object.property.name='query'][object.object.property.name='db']",
          message: 'db.query rounds 64-bit integers: use select().',
        },
      ],
    },
  },
  {
    files: ['core/src/**'],
    rules: {
      'no-restricted-globals': ['error', 'Date', 'fetch', 'process', 'window', 'setTimeout'].map(x =>
        x === 'error' ? x : { name: x, message: 'The core has no clock and no surroundings: let it be handed in.' },
      ),
      'no-restricted-properties': ['error', { object: 'Math', property: 'random' }],
    },
  },
  {
    // On the way of a booking only statements that were prepared once; building them each time costs ten times as much.
    files: ['server/src/ledger/{books,facts}.ts', 'server/src/papers/{book,resolve,effect,words}.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.property.name=/^(select|insert|update|delete)$/][callee.object.property.name='db']",
          message: 'Use a statement of ledger/statements.ts, or of the rows.ts of its room.',
        },
      ],
    },
  },
  {
    // Once something was answered somebody may be elsewhere: only the one who is still there is led on.
    files: ['web/src/**'],
    ignores: ['web/src/{scan,shell}/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "AwaitExpression > CallExpression[callee.object.name='router'][callee.property.name=/^(push|replace)$/]",
          message: 'Use useWay() of shell/way.ts: whoever has gone on to something else stays there.',
        },
      ],
    },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
)
