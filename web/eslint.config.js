import js from '@eslint/js'
import svelte from 'eslint-plugin-svelte'
import globals from 'globals'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['node_modules', 'src/api/schema.d.ts', 'src/core/wasm_exec.js'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  { files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      // Types are checked by svelte-check; this rule does not know the types of TypeScript.
      'no-undef': 'off',
      // Farm time comes from one module, offset from the server's clock.
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: 'use src/ui/time.ts: the farm has its own clock' },
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'use src/ui/time.ts: the farm has its own clock',
        },
      ],
      'svelte/no-navigation-without-resolve': 'off',
      'svelte/prefer-svelte-reactivity': 'off',
    },
  },
  { files: ['src/ui/time.svelte.ts'], rules: { 'no-restricted-properties': 'off', 'no-restricted-syntax': 'off' } },
)
