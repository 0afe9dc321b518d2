import js from '@eslint/js'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ts.configs.strict,
  {
    files: ['public/sw.js'],
    languageOptions: {
      globals: { self: false, caches: false, URL: false, location: false, fetch: false },
    },
  },
  {
    files: ['public/ahead.js'],
    languageOptions: {
      globals: { window: false, location: false, localStorage: false, fetch: false, URLSearchParams: false },
    },
  },
  {
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'crypto', property: 'randomUUID', message: 'Not there without TLS; use newID of api/id.' },
      ],
    },
  },
  hooks.configs.flat['recommended-latest'],
)
