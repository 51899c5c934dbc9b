import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      '.next/**',
      '.cache/**',
      'dist/**',
      'data/**',
      'next-env.d.ts',
      'test-results/**',
      'node_modules/**',
    ],
  },
  ...tseslint.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      '@typescript-eslint/no-unused-vars': ['error', { varsIgnorePattern: '^_', argsIgnorePattern: '^_' }],
      eqeqeq: 'error',
      'no-console': 'error',
      'max-lines': ['error', { max: 400, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    // Where components and hooks are.
    files: ['src/ui/**', 'src/app/**', 'src/site/**', 'src/views/**'],
    plugins: { 'react-hooks': reactHooks },
    rules: reactHooks.configs.recommended.rules,
  },
  {
    // Typed: what is read from a row, an answer or a library is said to be something before it is used.
    files: ['**/*.ts', '**/*.tsx'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
      '@typescript-eslint/no-unsafe-argument': 'error',
      '@typescript-eslint/no-unsafe-assignment': 'error',
      '@typescript-eslint/no-unsafe-call': 'error',
      '@typescript-eslint/no-unsafe-member-access': 'error',
      '@typescript-eslint/no-unsafe-return': 'error',
    },
  },
  {
    // `expect.any` and its like are of any type, in the test runner's own words.
    files: ['tests/**'],
    rules: { '@typescript-eslint/no-unsafe-assignment': 'off' },
  },
  {
    // In the browser, what comes is our own.
    files: ['src/**/*.ts'],
    ignores: ['src/outside/**', 'src/ui/**', 'src/site/script/**'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'CallExpression[arguments.length=0] > MemberExpression[property.name=/^(text|json|arrayBuffer|blob|formData|bytes)$/]',
          message: 'Read what comes from outside with readBounded (src/outside/read.ts).',
        },
        {
          selector: "MemberExpression[object.name='AbortSignal'][property.name='any']",
          message: 'It may be collected and never fire: use limitTime (src/outside/limit.ts).',
        },
      ],
    },
  },
  {
    files: ['src/core/**/*.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'Core is handed its clock.' },
        { object: 'Math', property: 'random', message: 'Core is deterministic.' },
      ],
      'no-restricted-globals': ['error', 'setTimeout', 'setInterval', 'fetch', 'process'],
    },
  },
  {
    files: ['tests/**'],
    rules: { 'max-lines': ['error', { max: 560, skipBlankLines: true, skipComments: true }] },
  },
  // A list: one change after the other.
  { files: ['tests/mutants/by-hand.mjs'], rules: { 'max-lines': 'off' } },
  // Catalogues: one entry a cause.
  { files: ['src/core/languages/causes/*.ts'], rules: { 'max-lines': 'off' } },
  { files: ['.dependency-cruiser.cjs'], languageOptions: { globals: { module: 'writable' } } },
  {
    files: ['scripts/**', 'src/server/base/log.ts', 'src/demo/**', 'tests/client/**'],
    rules: { 'no-console': 'off' },
  },
);
