import { createRouter, createWebHistory } from 'vue-router'
import type { Action } from '@shelve/contract'
import { takeEarly } from './scan/early.ts'
import { useSession } from './shell/session.ts'
import { get } from './shell/api.ts'

const slipView = () => import('./ledger/SlipEditorView.vue')
/** One route a view; each view is loaded when it is first wanted. */
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    {
      path: '/start',
      name: 'start',
      component: () => import('./people/FirstRunView.vue'),
      meta: { bare: true, title: 'Set up Shelve' },
    },
    {
      path: '/sign-in',
      name: 'sign-in',
      component: () => import('./people/SignInView.vue'),
      meta: { bare: true, title: 'Sign in' },
    },
    {
      path: '/',
      name: 'today',
      component: () => import('./reports/TodayView.vue'),
      meta: { tab: 'today', title: 'Today' },
    },
    {
      path: '/waste/expiring',
      name: 'expiring',
      component: () => import('./waste/ExpiringView.vue'),
      meta: { tab: 'waste', title: 'Running out of date' },
    },
    {
      path: '/begin',
      name: 'begin',
      component: () => import('./people/BeginView.vue'),
      meta: { tab: 'setup', title: 'Begin' },
    },
    {
      path: '/receive/:id?',
      name: 'receive',
      component: slipView,
      props: r => ({ kind: 'receipt', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'receive', title: 'Receive' },
    },
    {
      path: '/issue/:id?',
      name: 'issue',
      component: slipView,
      props: r => ({ kind: 'issue', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'issue', title: 'Issue' },
    },
    {
      path: '/take',
      name: 'take',
      component: () => import('./issuing/TakeView.vue'),
      meta: { right: 'take', tab: 'take', title: 'Take' },
    },
    {
      path: '/bring-back/:id?',
      name: 'bring_back',
      component: slipView,
      props: r => ({ kind: 'bring_back', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'issue', title: 'Bring back' },
    },
    {
      path: '/give-back/:id?',
      name: 'supplier_return',
      component: slipView,
      props: r => ({ kind: 'supplier_return', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'receive', title: 'Give back' },
    },
    {
      path: '/make/:id?',
      name: 'make',
      component: slipView,
      props: r => ({ kind: 'make', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'jobs', title: 'Make' },
    },
    {
      path: '/move/:id?',
      name: 'move',
      component: slipView,
      props: r => ({ kind: 'move', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'move', title: 'Move' },
    },
    {
      path: '/send/:id?',
      name: 'dispatch',
      component: slipView,
      props: r => ({ kind: 'dispatch', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'move', title: 'Send' },
    },
    {
      path: '/open/:id?',
      name: 'relabel',
      component: slipView,
      props: r => ({ kind: 'relabel', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'move', title: 'Open a container' },
    },
    {
      path: '/arrive/:id',
      name: 'arrival',
      component: slipView,
      props: r => ({ kind: 'arrival', id: r.params.id }),
      meta: { right: 'book', tab: 'move', title: 'Arrive' },
    },
    {
      path: '/transfers',
      name: 'transfers',
      component: () => import('./moving/TransfersView.vue'),
      meta: { tab: 'move', title: 'On the way' },
    },
    {
      path: '/transfers/:id',
      name: 'transfer',
      component: () => import('./moving/TransferView.vue'),
      props: true,
      meta: { tab: 'move', title: 'On the way' },
    },
    {
      path: '/waste/:id?',
      name: 'waste',
      component: slipView,
      props: r => ({ kind: 'waste', id: r.params.id || undefined }),
      meta: { right: 'book', tab: 'waste', title: 'Waste' },
    },
    {
      path: '/count',
      name: 'count',
      component: () => import('./counting/CountView.vue'),
      meta: { right: 'book', tab: 'count', title: 'Count' },
    },
    {
      path: '/count/print',
      name: 'print-sheets',
      component: () => import('./counting/PrintSheetsView.vue'),
      meta: { right: 'book', tab: 'count', title: 'Print sheets' },
    },
    {
      path: '/count/groups',
      name: 'count-groups',
      component: () => import('./counting/GroupsView.vue'),
      meta: { right: 'book', tab: 'count', title: 'Counted together' },
    },
    {
      path: '/count/paper/:id',
      name: 'paper',
      component: () => import('./counting/PaperView.vue'),
      props: true,
      meta: { right: 'book', tab: 'count', title: 'Enter a sheet' },
    },
    {
      path: '/count/:id',
      name: 'sheet',
      component: () => import('./counting/SheetView.vue'),
      props: true,
      meta: { right: 'book', tab: 'count', title: 'Count' },
    },
    {
      path: '/restock',
      name: 'restock',
      component: () => import('./restocking/RestockView.vue'),
      meta: { tab: 'restock', title: 'Restock' },
    },
    {
      path: '/restock/short',
      name: 'short',
      component: () => import('./restocking/ShortView.vue'),
      meta: { tab: 'restock', title: 'Short' },
    },
    {
      path: '/restock/:id',
      name: 'restock-slip',
      component: () => import('./restocking/RestockSlipView.vue'),
      props: true,
      meta: { tab: 'restock', title: 'Restock slip' },
    },
    {
      path: '/stock',
      name: 'stock',
      component: () => import('./reports/StockView.vue'),
      meta: { tab: 'stock', title: 'Stock' },
    },
    {
      path: '/items/:id',
      name: 'item',
      component: () => import('./catalogue/ItemView.vue'),
      props: true,
      meta: { tab: 'stock', title: 'Item' },
    },
    {
      path: '/lots',
      name: 'lots',
      component: () => import('./catalogue/LotsView.vue'),
      meta: { tab: 'stock', title: 'Lots' },
    },
    {
      path: '/lots/:id',
      name: 'lot',
      component: () => import('./catalogue/LotPageView.vue'),
      props: true,
      meta: { tab: 'stock', title: 'Lot' },
    },
    {
      path: '/ledger',
      name: 'ledger',
      component: () => import('./ledger/LedgerView.vue'),
      meta: { tab: 'ledger', title: 'Ledger' },
    },
    {
      path: '/look-back/:part?',
      name: 'look-back',
      component: () => import('./reports/LookBackView.vue'),
      props: r => ({ part: r.params.part || '' }),
      meta: { tab: 'look-back', title: 'Look back' },
    },
    {
      path: '/labels',
      name: 'labels',
      component: () => import('./scan/LabelsView.vue'),
      meta: { tab: 'receive', title: 'Labels' },
    },
    {
      path: '/slips/:id',
      name: 'slip',
      component: () => import('./ledger/SlipView.vue'),
      props: true,
      meta: { tab: 'ledger', title: 'Slip' },
    },
    { path: '/setup', name: 'setup', redirect: '/setup/items' },
    {
      path: '/setup/items',
      name: 'setup-items',
      component: () => import('./catalogue/ItemsView.vue'),
      meta: { tab: 'setup', title: 'Items' },
    },
    {
      path: '/setup/items/new',
      name: 'item-new',
      component: () => import('./catalogue/ItemFormView.vue'),
      meta: { tab: 'setup', title: 'New item' },
    },
    {
      path: '/setup/items/brought',
      name: 'items-brought',
      component: () => import('./catalogue/ItemsBrought.vue'),
      meta: { right: 'set_up', tab: 'setup', title: 'Items from a spreadsheet' },
    },
    {
      path: '/setup/items/:id',
      name: 'item-edit',
      component: () => import('./catalogue/ItemFormView.vue'),
      props: true,
      meta: { tab: 'setup', title: 'Edit item' },
    },
    {
      path: '/setup/categories',
      name: 'setup-categories',
      component: () => import('./catalogue/CategoriesView.vue'),
      meta: { tab: 'setup', title: 'Categories' },
    },
    {
      path: '/setup/places',
      name: 'setup-places',
      component: () => import('./places/PlacesView.vue'),
      meta: { tab: 'setup', title: 'Places' },
    },
    {
      path: '/setup/lists',
      name: 'setup-lists',
      component: () => import('./places/ListsView.vue'),
      meta: { tab: 'setup', title: 'Jobs, suppliers, reasons' },
    },
    {
      path: '/jobs',
      name: 'jobs',
      component: () => import('./jobs/JobsView.vue'),
      meta: { tab: 'jobs', title: 'Jobs' },
    },
    {
      path: '/jobs/:id',
      name: 'job',
      component: () => import('./jobs/JobView.vue'),
      props: true,
      meta: { tab: 'jobs', title: 'Job' },
    },
    {
      path: '/picks',
      name: 'picks',
      component: () => import('./jobs/PicksView.vue'),
      meta: { tab: 'jobs', title: 'Picking' },
    },
    {
      path: '/picks/:id',
      name: 'pick',
      component: () => import('./jobs/PickView.vue'),
      props: true,
      meta: { right: 'book', tab: 'jobs', title: 'Pick' },
    },
    {
      path: '/templates',
      name: 'templates',
      component: () => import('./jobs/TemplatesView.vue'),
      meta: { tab: 'jobs', title: 'Templates' },
    },
    {
      path: '/templates/new',
      name: 'template-new',
      component: () => import('./jobs/TemplateFormView.vue'),
      meta: { right: 'set_up', tab: 'jobs', title: 'New template' },
    },
    {
      path: '/templates/:id',
      name: 'template',
      component: () => import('./jobs/TemplateView.vue'),
      props: true,
      meta: { tab: 'jobs', title: 'Template' },
    },
    {
      path: '/templates/:id/change',
      name: 'template-change',
      component: () => import('./jobs/TemplateFormView.vue'),
      props: true,
      meta: { right: 'set_up', tab: 'jobs', title: 'Change a template' },
    },
    { path: '/me', name: 'me', component: () => import('./people/MeView.vue'), meta: { tab: 'setup', title: 'Me' } },
    {
      path: '/setup/people',
      name: 'setup-people',
      component: () => import('./people/PeopleView.vue'),
      meta: { right: 'set_up', tab: 'setup', title: 'People' },
    },
    {
      path: '/setup/accounts',
      name: 'setup-accounts',
      component: () => import('./reports/AccountCodesView.vue'),
      meta: { right: 'set_up', tab: 'setup', title: 'Account codes' },
    },
    {
      path: '/setup/tablets',
      name: 'setup-tablets',
      component: () => import('./places/TabletsView.vue'),
      meta: { tab: 'setup', title: 'Tablets' },
    },
    {
      path: '/setup/cards',
      name: 'setup-cards',
      component: () => import('./scan/CardsView.vue'),
      meta: { tab: 'setup', title: 'Cards and scanner' },
    },
    {
      path: '/setup/organisation',
      name: 'setup-organisation',
      component: () => import('./people/OrganisationView.vue'),
      meta: { tab: 'setup', title: 'Organisation' },
    },
    {
      path: '/setup/changes',
      name: 'setup-changes',
      component: () => import('./people/ChangesView.vue'),
      meta: { tab: 'setup', title: 'Who changed what' },
    },
    { path: '/:any(.*)*', redirect: '/' },
  ],
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
})

router.beforeEach(async to => {
  const session = useSession()
  if (!session.asked && !(await session.load())) {
    const { empty } = await get<{ empty: boolean }>('/api/start')
    if (empty && to.name !== 'start') return { name: 'start' }
    if (!empty && to.name !== 'sign-in')
      return { name: 'sign-in', query: to.fullPath === '/' ? {} : { to: to.fullPath } }
  }
  if (session.me && (to.name === 'start' || to.name === 'sign-in')) return '/'
  // What somebody may not do is no place to stand in.
  if (session.me && to.meta.right && !session.mayAnywhere(to.meta.right as Action)) return '/'
  if (!session.me && !to.meta.bare) return { name: 'sign-in', query: { to: to.fullPath } }
  return true
})
router.afterEach((to, _from, stayed) => {
  if (stayed) return
  // Whoever signs in first means nobody else with what was pressed.
  if (to.meta.bare) takeEarly()
  document.title = `${String(to.meta.title ?? 'Shelve')} · Shelve`
})
