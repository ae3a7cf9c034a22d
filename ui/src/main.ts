import '@fontsource-variable/atkinson-hyperlegible-next'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'

import App from './App.vue'
import { router } from './router'
import './style.css'

createApp(App)
  .use(router)
  .use(VueQueryPlugin, {
    queryClientConfig: { defaultOptions: { queries: { staleTime: 5_000, retry: 2, networkMode: 'always' } } },
  })
  .mount('#app')
