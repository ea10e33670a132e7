import { createRouter, createWebHistory } from 'vue-router';

/** Each stage is a chunk of its own, so that none pays for another. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'start', component: () => import('./pages/StartPage.vue') },
    {
      path: '/machine/:id',
      component: () => import('./pages/MachinePage.vue'),
      props: true,
      children: [
        { path: '', redirect: (to) => ({ path: `${to.path.replace(/\/$/, '')}/build` }) },
        { path: 'build', name: 'build', component: () => import('./stages/BuildStage.vue') },
        { path: 'move', name: 'move', component: () => import('./stages/MoveStage.vue') },
        { path: 'cue', name: 'cue', component: () => import('./stages/CueStage.vue') },
        { path: 'run', name: 'run', component: () => import('./stages/RunStage.vue') },
        { path: 'size', name: 'size', component: () => import('./stages/SizeStage.vue') },
        { path: 'deliver', name: 'deliver', component: () => import('./stages/DeliverStage.vue') },
      ],
    },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
});
