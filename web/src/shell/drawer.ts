import { shallowRef } from 'vue'

/**
 * Whether this device keeps what it is given. A full one does not, nor a browser that is told to keep nothing of any site:
 * then whatever is typed is in this window and, once saved, on the server.
 */
export const deviceKeeps = shallowRef(true)
/** What the device did not take, as long as this window is open. */
const held = new Map<string, string>()

/** What lies on this device, by name. It never fails: what the device does not take is held by this window alone. */
export const drawer = {
  read(name: string): string | null {
    const own = held.get(name)
    if (own !== undefined) return own
    try {
      return localStorage.getItem(name)
    } catch {
      return null
    }
  },
  keep(name: string, value: string): void {
    held.set(name, value)
    // What it did not take before goes with it, as soon as there is room.
    for (const [of, was] of held)
      try {
        localStorage.setItem(of, was)
        held.delete(of)
      } catch {
        // It stays here.
      }
    deviceKeeps.value = held.size === 0
  },
  forget(name: string): void {
    held.delete(name)
    try {
      localStorage.removeItem(name)
    } catch {
      // Where nothing may be read nothing was kept.
    }
  },
  names(): string[] {
    try {
      const there = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!)
      return [...new Set([...held.keys(), ...there])]
    } catch {
      return [...held.keys()]
    }
  },
}

/**
 * Where something of a person's own lies on the device: whoever takes the device over finds their own things in their own
 * drawer, and nobody else's. Known also while nobody is signed in: whose session ended goes on with what they wrote.
 */
export const ownKey = (name: string): string => `shelve.of.${drawer.read('shelve.person') ?? 'nobody'}.${name}`
