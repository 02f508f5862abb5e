import { KINDS as issuing } from '../issuing/kind.ts'
import { KINDS as jobs } from '../jobs/kind.ts'
import { KINDS as moving } from '../moving/kind.ts'
import { KINDS as receiving } from '../receiving/kind.ts'
import { KINDS as waste } from '../waste/kind.ts'
import type { KindsOfSlip } from './kind.ts'

/** Every kind of slip that is written on a screen of its own: each stands in its room. */
export const KINDS: KindsOfSlip = { ...receiving, ...issuing, ...jobs, ...moving, ...waste }
