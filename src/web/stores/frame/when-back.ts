import { useEventListener } from '@vueuse/core';

/**
 * Has a look each time this window is come back to: another one may have kept, renamed or deleted what is listed here. Without
 * the server nothing new is seen, and nobody has asked.
 */
export function whenBack(look: () => Promise<unknown>): void {
  useEventListener('focus', () => void look().catch(() => undefined));
}
