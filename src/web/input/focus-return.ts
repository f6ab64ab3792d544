/**
 * Where the keyboard is when a menu or a dialog goes: back where it was before, and not at the top of the page. The toolkit
 * gives it back to what opened a menu, if that is still there; commands and keys open dialogs from anywhere.
 */
import { useEventListener } from '@vueuse/core';

const OVERLAY = '.v-overlay-container';
/** Menus and dialogs; what only tells something holds no keys. */
const OPEN = '.v-overlay--active:not(.v-tooltip):not(.v-snackbar)';
/** They fade out within this time, in milliseconds. */
const AFTER_MS = 320;

/** Keeps to it as long as the calling component lives. */
export function useFocusReturn(): void {
  let last: HTMLElement | null = null;
  useEventListener(document, 'focusin', ({ target }) => {
    if (target instanceof HTMLElement && !target.closest(OVERLAY)) last = target;
  });
  const comeBack = (): void => {
    setTimeout(() => {
      const { activeElement } = document;
      const isLost = activeElement === document.body || activeElement?.closest(OVERLAY) !== null;
      if (isLost && document.querySelector(OPEN) === null) last?.focus({ preventScroll: true });
    }, AFTER_MS);
  };
  useEventListener(
    document,
    'keydown',
    ({ key }) => {
      if (['Escape', 'Enter', ' ', 'Tab'].includes(key) && document.querySelector(OPEN)) comeBack();
    },
    { capture: true },
  );
}
