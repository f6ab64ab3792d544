/** The places, each with its address. A project's places carry its id, so that a reload opens it again. */
import { createRouter, createWebHistory } from 'vue-router';

export type PlaceName = 'bench' | 'shape' | 'order' | 'away' | 'shelf';

/** The places of a project, in the order of the work. */
export const PROJECT_PLACES: readonly { name: Exclude<PlaceName, 'shelf'>; words: string; hint: string }[] = [
  { name: 'bench', words: 'Bench', hint: 'Cut the sound, put it on keys, make patterns' },
  { name: 'shape', words: 'Shape', hint: 'How a part and its slices sound' },
  {
    name: 'order',
    words: 'Running order',
    hint: 'What is on now, and what is played when: sections with their patterns',
  },
  {
    name: 'away',
    words: 'Take away',
    hint: 'The mix, stems, slices, notes, an instrument, the whole project, as files',
  },
];

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: () => import('./views/ShelfView.vue') },
    { path: '/capture', name: 'capture', component: () => import('./views/CaptureView.vue') },
    { path: '/guide', name: 'guide', component: () => import('./views/GuideView.vue') },
    { path: '/bench/:projectId', name: 'bench', component: () => import('./views/BenchView.vue') },
    { path: '/shape/:projectId', name: 'shape', component: () => import('./views/ShapeView.vue') },
    { path: '/order/:projectId', name: 'order', component: () => import('./views/OrderView.vue') },
    { path: '/away/:projectId', name: 'away', component: () => import('./views/AwayView.vue') },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
