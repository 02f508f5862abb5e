/**
 * Where something of a person's own lies on the device: whoever takes the device over finds their own things in their own
 * drawer, and nobody else's. Known also while nobody is signed in: whose session ended goes on with what they wrote.
 */
export const ownKey = (name: string): string => `shelve.of.${localStorage.getItem('shelve.person') ?? 'nobody'}.${name}`
