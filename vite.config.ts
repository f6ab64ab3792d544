import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import vuetify from 'vite-plugin-vuetify';
import { defineConfig } from 'vite';

const webRoot = fileURLToPath(new URL('./src/web', import.meta.url));

export default defineConfig(({ isSsrBuild }) => ({
  root: isSsrBuild ? undefined : webRoot,
  plugins: [vue(), vuetify({ autoImport: true })],
  worker: { format: 'es' as const },
  build: isSsrBuild
    ? { target: 'node20', emptyOutDir: true }
    : {
        outDir: fileURLToPath(new URL('./dist/web', import.meta.url)),
        emptyOutDir: true,
        target: 'es2022',
        chunkSizeWarningLimit: 900,
      },
}));
