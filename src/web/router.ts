import { createRouter, createWebHistory } from 'vue-router';
import ShelfView from './views/ShelfView.vue';

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'shelf', component: ShelfView },
    { path: '/bench/:projectId', name: 'bench', component: () => import('./views/BenchView.vue'), props: true },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
