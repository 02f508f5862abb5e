// The tabs of the binder: their names, pictures and where they lead.
import {
  ArrowLeftRight,
  BookOpenText,
  BriefcaseBusiness,
  ChartColumn,
  ClipboardList,
  FolderInput,
  FolderOutput,
  Grid2x2,
  Hand,
  ListTodo,
  Settings2,
  Sun,
  Trash2,
} from '@lucide/vue'

/** What is done, in the order of the tabs. */
export const ALL_WORKS = [
  { tab: 'today', to: '/', label: 'Today', icon: Sun },
  { tab: 'take', to: '/take', label: 'Take', icon: Hand },
  { tab: 'receive', to: '/receive', label: 'Receive', icon: FolderInput },
  { tab: 'issue', to: '/issue', label: 'Issue', icon: FolderOutput },
  { tab: 'move', to: '/move', label: 'Move', icon: ArrowLeftRight },
  { tab: 'waste', to: '/waste', label: 'Waste', icon: Trash2 },
  { tab: 'count', to: '/count', label: 'Count', icon: ClipboardList },
  { tab: 'restock', to: '/restock', label: 'Restock', icon: ListTodo },
]
/** What is looked at. */
export const LOOK = [
  { tab: 'stock', to: '/stock', label: 'Stock', icon: Grid2x2 },
  { tab: 'jobs', to: '/jobs', label: 'Jobs', icon: BriefcaseBusiness },
  { tab: 'ledger', to: '/ledger', label: 'Ledger', icon: BookOpenText },
  { tab: 'look-back', to: '/look-back', label: 'Look back', icon: ChartColumn },
]
export const SETUP = { tab: 'setup', to: '/setup/items', label: 'Set-up', icon: Settings2 }
