import globals from 'globals'
import eslint from 'typescript-eslint'
import vue from 'eslint-plugin-vue'

const OWN_BITS = [
  'acos',
  'acosh',
  'asin',
  'asinh',
  'atan',
  'atan2',
  'atanh',
  'cbrt',
  'cos',
  'cosh',
  'exp',
  'expm1',
  'hypot',
  'log',
  'log10',
  'log1p',
  'log2',
  'pow',
  'sin',
  'sinh',
  'tan',
  'tanh',
]

/** What only a page, a worker of one or Node has. Types are checked in one program, so that it is the linter that keeps rooms apart. */
const PAGE = Object.keys(globals.browser)
const NODE = Object.keys(globals.node)
/** The core has neither; a deep copy is the language's in all but name. */
const OUTSIDE = [...new Set([...PAGE, ...NODE])].filter((name) => name !== 'structuredClone')
const inBoth = new Set(Object.keys(globals['shared-node-browser']))
const onlyIn = (names) => names.filter((name) => !inBoth.has(name))

export default eslint.config(
  { ignores: ['**/dist/**', '.build/**', 'node_modules/**', 'test-results/**'] },
  ...eslint.configs.recommended,
  ...vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: eslint.parser } } },
  {
    rules: {
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      'no-console': 'error',
      eqeqeq: 'error',
      'prefer-const': 'error',
      // `npm run format` wraps what can be wrapped; prose in quotes is as long as its sentence.
      'max-len': ['error', { code: 140, ignoreStrings: true, ignoreTemplateLiterals: true, ignoreRegExpLiterals: true, ignoreUrls: true }],
      'vue/no-v-html': 'error',
      'vue/multi-word-component-names': 'off',
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-indent': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/attributes-order': 'off',
    },
  },
  {
    // Every engine has its own last bit of these; core/src/arithmetic has those that are the same everywhere.
    files: ['core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-properties': [
        'error',
        ...OWN_BITS.map((property) => ({
          object: 'Math',
          property,
          message: 'Its last bit depends on the engine: use core/src/arithmetic.',
        })),
      ],
      'no-restricted-syntax': [
        'error',
        ...['BinaryExpression', 'AssignmentExpression'].map((kind) => ({
          selector: `${kind}[operator=/^\\*\\*=?$/]`,
          message: 'A power need not be rounded alike everywhere: multiply, or use square.',
        })),
      ],
    },
  },
  { files: ['{threads,outside,cli,server}/**/*.ts'], rules: { 'no-restricted-globals': ['error', ...onlyIn(PAGE)] } },
  { files: ['app/**/*.{ts,vue}'], rules: { 'no-restricted-globals': ['error', ...onlyIn(NODE)] } },
  { files: ['core/src/**/*.ts'], ignores: ['**/*.test.ts'], rules: { 'no-restricted-globals': ['error', ...OUTSIDE] } },
  {
    files: ['scripts/**', 'bench/**', 'server/src/**', 'examples/realModel/**', 'core/test/analytic/writeProof.ts'],
    rules: { 'no-console': 'off' },
  },
)
