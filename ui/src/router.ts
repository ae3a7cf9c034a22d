import { createRouter, createWebHistory } from 'vue-router'

import BenchView from './views/bench/BenchView.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'now', component: () => import('./views/now/NowView.vue'), meta: { title: 'Now' } },
    { path: '/bench/:cup?', name: 'bench', component: BenchView, meta: { title: 'Bench' } },
    { path: '/shelf', name: 'shelf', component: () => import('./views/shelf/ShelfView.vue'), meta: { title: 'Shelf' } },
    {
      path: '/shelf/:material',
      name: 'material',
      component: () => import('./views/shelf/MaterialView.vue'),
      meta: { title: 'On the shelf' },
    },
    {
      path: '/shelf/:material/chips',
      name: 'chips',
      component: () => import('./views/shelf/ChipView.vue'),
      meta: { title: 'Measured by chips' },
    },
    { path: '/kit', name: 'kit', component: () => import('./views/shelf/KitView.vue'), meta: { title: 'Kit' } },
    { path: '/baits', name: 'baits', component: () => import('./views/baits/BaitsView.vue'), meta: { title: 'Baits' } },
    {
      path: '/baits/:bait',
      name: 'bait',
      component: () => import('./views/baits/BaitView.vue'),
      meta: { title: 'Bait' },
    },
    { path: '/molds', name: 'molds', component: () => import('./views/molds/MoldsView.vue'), meta: { title: 'Molds' } },
    {
      path: '/molds/:mold',
      name: 'mold',
      component: () => import('./views/molds/MoldView.vue'),
      meta: { title: 'Mold' },
    },
    { path: '/sheet', name: 'sheet', component: () => import('./views/sheet/SheetView.vue'), meta: { title: 'Sheet' } },
    {
      path: '/count/:cup',
      name: 'count',
      component: () => import('./views/count/CountView.vue'),
      meta: { title: 'Count' },
    },
    {
      path: '/beside',
      name: 'beside',
      component: () => import('./views/recipes/BesideView.vue'),
      meta: { title: 'Side by side' },
    },
    {
      path: '/recipes',
      name: 'recipes',
      component: () => import('./views/recipes/RecipesView.vue'),
      meta: { title: 'Recipes' },
    },
    {
      path: '/recipes/:recipe',
      name: 'recipe',
      component: () => import('./views/recipes/RecipeView.vue'),
      meta: { title: 'Recipe' },
    },
    {
      path: '/references',
      name: 'references',
      component: () => import('./views/references/ReferencesView.vue'),
      meta: { title: 'References' },
    },
    {
      path: '/references/:reference',
      name: 'reference',
      component: () => import('./views/references/ReferenceView.vue'),
      meta: { title: 'Reference' },
    },
    {
      path: '/match',
      name: 'match',
      component: () => import('./views/match/MatchView.vue'),
      meta: { title: 'Match' },
    },
    {
      path: '/projects',
      name: 'projects',
      component: () => import('./views/projects/ProjectsView.vue'),
      meta: { title: 'Projects' },
    },
    {
      path: '/projects/:project',
      name: 'project',
      component: () => import('./views/projects/ProjectView.vue'),
      meta: { title: 'Project' },
    },
    { path: '/pours', name: 'pours', component: () => import('./views/pours/PoursView.vue'), meta: { title: 'Pour' } },
    {
      path: '/pours/:pour',
      name: 'pour',
      component: () => import('./views/pours/PourView.vue'),
      meta: { title: 'Plan' },
    },
    {
      path: '/pours/:pour/run',
      name: 'run',
      component: () => import('./views/pours/RunView.vue'),
      meta: { title: 'Run' },
    },
    { path: '/log', name: 'log', component: () => import('./views/log/LogView.vue'), meta: { title: 'Logbook' } },
    {
      path: '/log/:entry',
      name: 'entry',
      component: () => import('./views/log/EntryView.vue'),
      meta: { title: 'Entry' },
    },
    {
      path: '/leftovers',
      name: 'leftovers',
      component: () => import('./views/leftovers/LeftoversView.vue'),
      meta: { title: 'Leftovers' },
    },
    {
      path: '/leftovers/:leftover',
      name: 'leftover',
      component: () => import('./views/leftovers/LeftoverView.vue'),
      meta: { title: 'Leftover' },
    },
    {
      path: '/leftovers/:leftover/label',
      name: 'label',
      component: () => import('./views/leftovers/LabelView.vue'),
      meta: { title: 'Label' },
    },
    { path: '/packs', name: 'packs', component: () => import('./views/packs/PacksView.vue'), meta: { title: 'Packs' } },
    {
      path: '/packs/:pack',
      name: 'pack',
      component: () => import('./views/packs/PackView.vue'),
      meta: { title: 'Pack' },
    },
    {
      path: '/packs/:pack/label',
      name: 'pack-label',
      component: () => import('./views/packs/PackLabel.vue'),
      meta: { title: 'Label' },
    },
    {
      path: '/batches',
      name: 'batches',
      component: () => import('./views/batches/BatchesView.vue'),
      meta: { title: 'Test batches' },
    },
    {
      path: '/batches/new/:recipe?',
      name: 'new-batch',
      component: () => import('./views/batches/NewBatchView.vue'),
      meta: { title: 'New test batch' },
    },
    { path: '/:rest(.*)', name: 'nowhere', component: () => import('./views/NowhereView.vue') },
  ],
})

router.afterEach((to) => {
  document.title = to.meta.title ? `${to.meta.title as string} · Cloudburst` : 'Cloudburst'
})
