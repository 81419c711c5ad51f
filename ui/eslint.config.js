import svelte from 'eslint-plugin-svelte'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['build/', '.svelte-kit/', 'node_modules/', 'src/lib/api/schema.d.ts'] },
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { files: ['**/*.svelte', '**/*.svelte.ts'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      'svelte/no-navigation-without-resolve': 'off',
      // Plain maps and dates are right where nothing on the page depends on them.
      'svelte/prefer-svelte-reactivity': 'off'
    }
  }
)
