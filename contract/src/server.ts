import { op } from './operation.ts'
import * as people from './people/people.ts'
import * as reports from './reports/reports.ts'

/** What one may ask of this room: the server itself. */
export const operations = {
  health: op('get', '/api/health', 'Whether the server works', { right: 'none', answer: people.Health }),
  tablets: op('get', '/api/tablets', 'How tablets reach this server', { answer: people.Tablets }),
  start: op('get', '/api/start', 'Whether there is an organisation yet', { right: 'none', answer: people.Start }),
  firstRun: op('post', '/api/start', 'Makes the organisation, its first manager and area, on an empty database', {
    right: 'none',
    status: 201,
    body: people.FirstRun,
    answer: people.Me,
  }),
  backups: op('get', '/api/backups', 'The backups there are', { right: 'set_up', answer: reports.BackupsView }),
  takeBackup: op('post', '/api/backups', 'Takes a backup now', {
    right: 'set_up',
    status: 201,
    answer: reports.BackupsView,
    reads: true,
  }),
  verify: op('post', '/api/verification', 'Works everything out anew and says what does not agree', {
    right: 'set_up',
    answer: reports.Verification,
    reads: true,
  }),
} as const
