import type { House as Below } from '../people/index.ts'
import type { Post } from './post.ts'

/** What stands up to this room. `post` sends mail, where somebody said where to hand it over. */
export interface House extends Below {
  readonly post: Post | undefined
}
