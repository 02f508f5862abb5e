import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router.ts'
import { renewWhenUpgraded } from './shell/renewed.ts'
import { code } from './scan/code-field.ts'
import { focus } from './ui/focus.ts'
import { wants } from './ui/wants.ts'
import './style.css'

createApp(App)
  .use(createPinia())
  .use(router)
  .directive('focus', focus)
  .directive('code', code)
  .directive('wants', wants)
  .mount('#app')
renewWhenUpgraded(router)
