import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router.ts'
import { composingComesFirst } from './shell/composing.ts'
import { comeWhenReached } from './shell/first-view.ts'
import { renewWhenUpgraded } from './shell/renewed.ts'
import { sayUnforeseen } from './shell/unforeseen.ts'
import { followWay } from './shell/way.ts'
import { code } from './scan/code-field.ts'
import { focus } from './ui/focus.ts'
import { wants } from './ui/wants.ts'
import './style.css'
import './on-paper.css'
import './touch.css'
import './own-colours.css'

composingComesFirst()
/** The letters are there before the first word is: a page that is drawn in others moves away from under the finger. */
const letters = Promise.all(
  ['Next', 'Mono'].map(of => document.fonts.load(`1em "Atkinson Hyperlegible ${of} Variable"`)),
)
const AT_MOST = 3_000
const app = createApp(App)
  .use(createPinia())
  .use(router)
  .directive('focus', focus)
  .directive('code', code)
  .directive('wants', wants)
void Promise.race([letters, new Promise(done => setTimeout(done, AT_MOST))])
  .catch(() => undefined)
  .then(() => app.mount('#app'))
renewWhenUpgraded(router)
comeWhenReached(router)
followWay(router)
sayUnforeseen(app)
