import { readdirSync, readFileSync } from 'node:fs';

import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { VitePWA } from 'vite-plugin-pwa';
import { defineConfig } from 'vitest/config';

const tests = readdirSync(new URL('./src', import.meta.url), { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.test.ts'))
  .map((name) => `src/${name}`);
/** Tests that put something in place of a module or of the browser's own things have a world each. */
const alone = tests.filter((file) =>
  /\bvi\.(?!fn\b|spyOn\b)/.test(readFileSync(new URL(file, import.meta.url), 'utf8')),
);

export default defineConfig({
  plugins: [
    tailwindcss(),
    svelte(),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src',
      filename: 'sw.ts',
      injectRegister: null,
      injectManifest: {
        globPatterns: ['**/*.{js,css,html,svg,woff2,png}'],
        globIgnores: ['**/*-ext-*', '**/*vietnamese*'],
      },
      manifest: {
        id: '/',
        name: 'Kunstflug',
        short_name: 'Kunstflug',
        description: 'Matches, runs and compares the electric drive of a racing boat.',
        start_url: '/',
        scope: '/',
        display: 'standalone',
        orientation: 'any',
        background_color: '#f6f1e6',
        theme_color: '#f6f1e6',
        icons: [
          { src: '/icons/192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icons/512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icons/maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
    }),
  ],
  resolve: {
    alias: { $lib: '/src/lib', $features: '/src/features' },
    // Component tests need Svelte's browser build.
    conditions: process.env.VITEST ? ['browser'] : undefined,
  },
  server: {
    proxy: { '/api': { target: 'http://127.0.0.1:8417', changeOrigin: false, headers: { host: '127.0.0.1' } } },
  },
  // Beside the program, so that a wheel carries it.
  build: {
    target: 'es2022',
    chunkSizeWarningLimit: 400,
    outDir: '../src/kunstflug/web/page',
    emptyOutDir: true,
    // The library's parts import one another through its index: only those that are used may come along.
    rolldownOptions: { treeshake: { moduleSideEffects: (id: string) => !/flowbite-svelte\/dist/.test(id) } },
  },
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
});
