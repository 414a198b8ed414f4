import { readdirSync, readFileSync } from 'node:fs';

import { defineConfig, mergeConfig } from 'vitest/config';

import viteConfig from './vite.config';

const tests = readdirSync(new URL('./src', import.meta.url), { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.test.ts'))
  .map((name) => `src/${name}`);
/** Tests that put something in place of a module or of the browser's own things have a world each. */
const alone = tests.filter((file) =>
  /\bvi\.(?!fn\b|spyOn\b)/.test(readFileSync(new URL(file, import.meta.url), 'utf8')),
);

export default mergeConfig(
  viteConfig,
  defineConfig({
    // Component tests need Svelte's browser build.
    resolve: { conditions: ['browser'] },
    test: {
      environment: 'node',
      restoreMocks: true,
      testTimeout: 60_000, // the machine may be busy: what counts is the answer, not its time
      pool: 'threads',
      projects: [
        { extends: true, test: { name: 'alone', include: alone } },
        // All others share one, which saves most of their time.
        { extends: true, test: { name: 'together', include: tests.filter((f) => !alone.includes(f)), isolate: false } },
      ],
    },
  }),
);
