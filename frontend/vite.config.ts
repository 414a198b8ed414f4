import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { VitePWA } from 'vite-plugin-pwa';
import { defineConfig } from 'vite';

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
});
