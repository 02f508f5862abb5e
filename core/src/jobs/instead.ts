import { type Quantity, ratio } from '../quantity/micro.ts'
import { written } from './needs.ts'

/**
 * How much of one thing stands for so much of another, where `by` of it may be taken in the place of `of` of that; written as
 * a need is (rule 61): whole units up, measured ones half to even.
 */
export const standsFor = (
  quantity: Quantity,
  { of, by }: { readonly of: Quantity; readonly by: Quantity },
  decimals: number,
): Quantity => written(ratio(quantity * by, of), decimals)
