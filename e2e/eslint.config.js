import js from '@eslint/js';
import globals from 'globals';

export default [
  js.configs.recommended,
  { languageOptions: { globals: { ...globals.node, ...globals.browser, htmx: 'readonly' } } },
  { ignores: ['test-results/**', '**/vendor/**'] },
];
