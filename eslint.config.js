import prettier from 'eslint-config-prettier';
import vue from 'eslint-plugin-vue';
import tseslint from 'typescript-eslint';

export default tseslint.config(
  {
    ignores: [
      'dist/**',
      'src/core/kernels/assembly/**',
      'node_modules/**',
      'data/**',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  ...tseslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser } },
  },
  {
    rules: {
      '@typescript-eslint/no-unused-vars': [
        'error',
        { argsIgnorePattern: '^_', varsIgnorePattern: '^_', ignoreRestSiblings: true },
      ],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-console': 'error',
      eqeqeq: 'error',
      'vue/multi-word-component-names': 'off',
    },
  },
  {
    files: ['src/core/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'process', 'performance', 'Buffer'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'seeds come through the caller: see units/random.ts' },
        { object: 'Date', property: 'now', message: 'the core has no clock' },
      ],
    },
  },
  {
    files: ['src/web/**/*.vue'],
    rules: {
      'vue/no-restricted-html-elements': [
        'error',
        ...['button', 'select', 'input', 'textarea', 'dialog', 'option', 'table', 'progress', 'details'].map(
          (element) => ({
            element,
            message: 'controls come from the toolkit, dressed once in src/web/theme',
          }),
        ),
      ],
    },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  prettier,
);
