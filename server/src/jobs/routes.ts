import { type Handlers, reach } from '../rights/index.ts'
import type { House } from './house.ts'
import { needsView } from './needs.ts'
import { createTemplate, templateRows, templateView, updateTemplate } from './templates.ts'

/** What this room answers: each operation of the contract and its use case. */
export function routes(house: House) {
  return {
    templates: () => ({ rows: templateRows(house) }),
    template: ({ params, caller }) => templateView(house, reach(house, caller), params.id),
    createTemplate: ({ body, caller }) => ({ id: house.setUp(() => createTemplate(house, caller, body), 'names') }),
    updateTemplate: ({ params, body, revision, caller }) => {
      house.setUp(() => updateTemplate(house, caller, params.id, body, revision), 'names')
      return { id: params.id }
    },
    templateNeeds: ({ params, query, caller }) => needsView(house, reach(house, caller), params.id, query),
  } satisfies Partial<Handlers>
}
