import { readdirSync } from 'node:fs';

import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';

import svelteConfig from './svelte.config.js';

const features = readdirSync(new URL('./src/features', import.meta.url));

export default ts.config(
  { ignores: ['dist/', 'node_modules/', '.svelte-check/', 'src/lib/api/generated/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { languageOptions: { globals: { ...globals.browser } } },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { extraFileExtensions: ['.svelte'], parser: ts.parser, svelteConfig } },
  },
  // routes > features > lib; features do not import each other
  {
    files: ['src/lib/**'],
    rules: { 'no-restricted-imports': ['error', { patterns: ['$features/*', '**/features/*'] }] },
  },
  ...features.map((name) => ({
    files: [`src/features/${name}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: features
            .filter((other) => other !== name)
            .flatMap((other) => [`$features/${other}/**`, `**/${other}/*`]),
        },
      ],
    },
  })),
);
