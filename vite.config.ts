import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import vuetify from 'vite-plugin-vuetify';
import { defineConfig } from 'vite';

const webRoot = fileURLToPath(new URL('./src/web', import.meta.url));

/** What the toolkit brings along whether it is used or not: dates, and the pages behind tabs; nothing here has those. */
const UNUSED: Record<string, string> = {
  'composables/date/adapters/vuetify.js': 'export class VuetifyDateAdapter {}',
  'components/VTabs/VTabsWindow.js':
    'export const VTabsWindow = () => null; export const makeVTabsWindowProps = () => ({});',
  'components/VTabs/VTabsWindowItem.js':
    'export const VTabsWindowItem = () => null; export const makeVTabsWindowItemProps = () => ({});',
};
const withoutUnused = {
  name: 'without-unused',
  enforce: 'pre' as const,
  load: (id: string) => UNUSED[id.split('/vuetify/lib/')[1] ?? ''] ?? null,
};

export default defineConfig(({ isSsrBuild }) => ({
  root: isSsrBuild ? undefined : webRoot,
  plugins: [withoutUnused, vue(), vuetify({ autoImport: true })],
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
