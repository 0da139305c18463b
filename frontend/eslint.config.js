import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    rules: {
      'vue/multi-word-component-names': 'off',
      'vue/no-restricted-html-elements': [
        'error',
        { element: 'select', message: 'A list is ChooseOne: it can be searched.' },
      ],
      'vue/no-restricted-static-attribute': [
        'error',
        { key: 'type', value: 'date', element: 'input', message: 'A day is DayField.' },
      ],
    },
  },
  prettier, // the layout is prettier's
)
