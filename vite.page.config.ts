/** The page that plays, as one script and one style beside the application: see src/web/page. */
import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import vuetify from 'vite-plugin-vuetify';
import { defineConfig } from 'vite';

const root = fileURLToPath(new URL('./src/web', import.meta.url));

export default defineConfig({
  root,
  publicDir: false,
  plugins: [vue(), vuetify({ autoImport: true })],
  define: { 'process.env.NODE_ENV': '"production"', 'process.env': '{}' },
  // A page from the disk is of no origin: a module would be refused to it, a plain script is not.
  worker: { format: 'iife' },
  build: {
    outDir: fileURLToPath(new URL('./dist/web/page', import.meta.url)),
    emptyOutDir: true,
    target: 'es2022',
    cssCodeSplit: false,
    lib: {
      entry: `${root}/page/main.ts`,
      formats: ['iife'],
      name: 'yappaPage',
      fileName: () => 'page.js',
      cssFileName: 'page',
    },
  },
});
