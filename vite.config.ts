import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { compression, defineAlgorithm } from 'vite-plugin-compression2';
import vuetify from 'vite-plugin-vuetify';
import { defineConfig, type Plugin } from 'vite';

const webRoot = fileURLToPath(new URL('./src/web', import.meta.url));

/** What the toolkit brings along whether it is used or not: dates, pictures, badges, the pages behind tabs; nothing here has those. */
const UNUSED: Record<string, string> = {
  'composables/date/adapters/vuetify.js': 'export class VuetifyDateAdapter {}',
  'components/VImg/VImg.js': 'export const VImg = () => null; export const makeVImgProps = () => ({});',
  'components/VBadge/VBadge.js': 'export const VBadge = () => null; export const makeVBadgeProps = () => ({});',
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

/** The service worker keeps every file of the build: it is told their names when they are known. */
const SERVICE_WORKER = 'sw.js';
const keptFiles: Plugin = {
  name: 'kept-files',
  generateBundle: {
    order: 'post',
    handler(_options, bundle) {
      const worker = bundle[SERVICE_WORKER];
      if (worker?.type !== 'chunk') return;
      const files = Object.keys(bundle).filter((name) => name.startsWith('assets/') && !name.endsWith('.woff'));
      const list = files.sort().map((name) => ({ url: `/${name}`, revision: null }));
      worker.code = worker.code.replace('BUILT_FILES', JSON.stringify(list));
    },
  },
};

const ALWAYS_ON_THE_BENCH = new RegExp(
  'src/(core/(params/treated-rows|queries/(percussion-keys|free-keys|treatments)|strips/(timing|feel-step)' +
    '|project/(modulator-copies|slice-zones|commands/(switches|treatments)))' +
    '|web/(canvas/(view-window|use-drag|draw|use-zoom|use-pinch|use-band-canvas|rows-layout)' +
    '|components/(pattern/use-pattern-names|parts/use-part-actions)))\\.ts',
);

/** What of the toolkit every place shows; not what a table alone needs, though it lies in a folder of the same name. */
const SHOWN_EVERYWHERE =
  'Btn|BtnToggle|Icon|Overlay|Menu|List|Field|Input|Select|TextField|Checkbox|Tooltip|DefaultsProvider|Label|Counter|Messages' +
  '|Chip|Divider|Sheet|ExpansionPanel|VirtualScroll|App';
const TOOLKIT = new RegExp(
  `node_modules/(vuetify/lib|@vuetify/v0/dist)/(composables|util|directives|components/(transitions|V(${SHOWN_EVERYWHERE})))/`,
);

/** Every file of the build also lies there compressed: once when it is built, not each time that it is asked for. */
const compressed = compression({
  include: /\.(js|css|html|svg|webmanifest)$/,
  // It learns the names of the others after they have been compressed, and is asked for once.
  exclude: new RegExp(`${SERVICE_WORKER}$`),
  threshold: 500,
  algorithms: [defineAlgorithm('brotliCompress'), defineAlgorithm('gzip', { level: 9 })],
});

export default defineConfig(({ isSsrBuild }) => ({
  root: isSsrBuild ? undefined : webRoot,
  plugins: [
    withoutUnused,
    vue({ features: { optionsAPI: false } }),
    vuetify({ autoImport: true }),
    ...(isSsrBuild ? [] : [keptFiles, compressed]),
  ],
  worker: { format: 'es' as const },
  build: isSsrBuild
    ? { target: 'node20', emptyOutDir: true }
    : {
        outDir: fileURLToPath(new URL('./dist/web', import.meta.url)),
        emptyOutDir: true,
        target: 'es2022',
        chunkSizeWarningLimit: 900,
        rolldownOptions: {
          input: { index: `${webRoot}/index.html`, sw: `${webRoot}/service/service-worker.ts` },
          output: {
            entryFileNames: ({ name }: { name: string }) =>
              name === 'sw' ? SERVICE_WORKER : 'assets/[name]-[hash].js',
            // Small ones that the bench always needs, in one file: each of its own would be compressed by itself.
            codeSplitting: {
              groups: [
                { name: 'bench-parts', test: ALWAYS_ON_THE_BENCH },
                { name: 'toolkit', test: TOOLKIT },
              ],
            },
          },
        },
      },
}));
