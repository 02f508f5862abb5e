import { z } from 'zod'
import { found, id, op } from '../operation.ts'
import { idOf } from '../things.ts'
import * as templates from './templates.ts'

/** What one may ask of this room. */
export const operations = {
  templates: op('get', '/api/templates', 'How things are done again and again', {
    answer: z.object({ rows: z.array(templates.TemplateRow) }),
  }),
  template: op('get', '/api/templates/:id', 'A template as it was saved last', {
    params: id.template,
    answer: templates.TemplateView,
  }),
  createTemplate: op('post', '/api/templates', 'A new template', {
    right: 'set_up',
    status: 201,
    body: templates.Template,
    answer: found,
  }),
  updateTemplate: op(
    'put',
    '/api/templates/:id',
    'A new version of a template; what was there stays as an earlier one',
    {
      right: 'set_up',
      params: id.template,
      body: templates.Template,
      answer: found,
      ifMatch: true,
    },
  ),
  templateNeeds: op('get', '/api/templates/:id/needs', 'What making so much of it takes, and whether it is there', {
    params: id.template,
    query: z.object({
      /** As somebody types it; nothing: what its lines are for. */
      wanted: z.string().max(60).optional(),
      unit: z.string().max(120).optional(),
      place: idOf('place').optional(),
    }),
    answer: templates.TemplateNeeds,
  }),
} as const
