import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import { defineConfig, globalIgnores } from 'eslint/config'
import globals from 'globals'
import ts from 'typescript-eslint'

export default defineConfig([
  globalIgnores(['dist', 'src/api/schema.d.ts']),
  js.configs.recommended,
  ts.configs.recommendedTypeChecked,
  vue.configs['flat/recommended'],
  {
    files: ['**/*.{ts,vue}'],
    languageOptions: {
      globals: globals.browser,
      parserOptions: {
        parser: ts.parser,
        projectService: true,
        extraFileExtensions: ['.vue'],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: { 'no-undef': 'off', '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }] },
  },
  {
    files: ['*.{js,mjs}', 'vite.config.ts', 'vitest.config.ts'],
    extends: [ts.configs.disableTypeChecked],
    languageOptions: { globals: globals.node },
  },
  prettier,
])
