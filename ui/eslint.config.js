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
      'svelte/prefer-svelte-reactivity': 'off',
      // A locale's date is for people and differs between browsers; a machine's date is put together in lib/format.ts.
      'no-restricted-syntax': [
        'error',
        {
          selector: 'Literal[value=/^(sv|en-CA|fr-CA|lt)(-|$)/]',
          message: 'Dates for machines come from here() and addDays() in lib/format.ts, not from a locale.'
        },
        {
          selector:
            'CallExpression[callee.property.name=/^(slice|split|replace)$/] > MemberExpression > CallExpression[callee.property.name=/^toLocale/]',
          message: 'What a locale writes is not taken apart; use lib/format.ts.'
        }
      ]
    }
  }
)
