import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import vuetify from 'vite-plugin-vuetify';
import { defineConfig } from 'vite';

const webRoot = fileURLToPath(new URL('./src/web', import.meta.url));

/** The toolkit brings an adapter for dates along, whether anything shows a date or not: nothing here does. */
const withoutDates = {
  name: 'without-dates',
  enforce: 'pre' as const,
  load: (id: string) =>
    id.endsWith('/vuetify/lib/composables/date/adapters/vuetify.js') ? 'export class VuetifyDateAdapter {}' : null,
};

export default defineConfig(({ isSsrBuild }) => ({
  root: isSsrBuild ? undefined : webRoot,
  plugins: [withoutDates, vue(), vuetify({ autoImport: true })],
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
