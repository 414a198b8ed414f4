import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
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
  test: { environment: 'node', include: ['src/**/*.test.ts'], restoreMocks: true },
});
