import { onUnmounted } from 'vue'
import { tellAnew } from './events.ts'
import { useSession } from './session.ts'

/** How often it is looked whether another day has begun (ms). */
const OFTEN = 10_000
/**
 * At midnight, where the organisation is, other lots are out of date and other deliveries late, though nothing was booked:
 * whatever stands on the screen is told anew. A page that was hidden or slept looks as soon as it is seen.
 */
export function followDays(): void {
  const session = useSession()
  let known = session.day()
  const look = () => {
    if (document.hidden || session.day() === known) return
    known = session.day()
    session.days++
    tellAnew()
  }
  const timer = setInterval(look, OFTEN)
  document.addEventListener('visibilitychange', look)
  onUnmounted(() => {
    clearInterval(timer)
    document.removeEventListener('visibilitychange', look)
  })
}
