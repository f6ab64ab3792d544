/** The keyboard on the bench: shortcuts, and letters that play slices. */
import { useEventListener } from '@vueuse/core';
import { onScopeDispose } from 'vue';
import { actionOf, isTyping, pressesControl, type ActionId } from './shortcuts.ts';
import { typingKeyOffset } from '../devices/typing-keys.ts';

export interface SliceKeys {
  down(offset: number, timeStamp: number): void;
  up(offset: number, timeStamp?: number): void;
  /** Shift, held, is the pedal: what is let go meanwhile is held on. */
  pedal(isDown: boolean): void;
}

/** Is a dialog open, or a menu that the key belongs to? */
function isElsewhere(event: KeyboardEvent): boolean {
  const target = event.target as Element | null;
  const isInOverlay = target !== null && target.closest('.v-overlay__content') !== null;
  // An open menu is closed first, though the key went elsewhere.
  if (event.key === 'Escape' && document.querySelector('.v-menu.v-overlay--active') !== null) return true;
  return isInOverlay || document.querySelector('.v-dialog.v-overlay--active') !== null;
}

/** Listens while the calling component is on screen. What the place has no use for gives false and is left alone. */
export function useBenchKeys(run: (action: ActionId) => boolean, keys: SliceKeys): void {
  const held = new Set<number>();
  let isPedalDown = false;

  function setPedal(isDown: boolean): void {
    if (isPedalDown === isDown) return;
    isPedalDown = isDown;
    keys.pedal(isDown);
  }

  function onKeyDown(event: KeyboardEvent): void {
    if (event.defaultPrevented || isElsewhere(event) || isTyping(event) || pressesControl(event)) return;
    // Only with letters already down: alone it chooses several, and moves what is chosen.
    if (event.key === 'Shift' && held.size > 0) setPedal(true);
    const action = actionOf(event);
    if (action) {
      // Once for a key that is held down.
      if (event.repeat && (action === 'play' || action === 'deal')) return event.preventDefault();
      if (!run(action)) return;
      event.preventDefault();
      // A button that was clicked keeps no key for itself.
      if (document.activeElement instanceof HTMLButtonElement) document.activeElement.blur();
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const offset = typingKeyOffset(event.code);
    if (offset === null || held.has(offset)) return;
    event.preventDefault();
    held.add(offset);
    keys.down(offset, event.timeStamp);
  }

  function onKeyUp(event: KeyboardEvent): void {
    if (event.key === 'Shift') setPedal(false);
    const offset = typingKeyOffset(event.code);
    if (offset !== null && held.delete(offset)) keys.up(offset, event.timeStamp);
  }

  function letAllGo(): void {
    for (const offset of held) keys.up(offset);
    held.clear();
    setPedal(false);
  }

  useEventListener(window, 'keydown', onKeyDown);
  useEventListener(window, 'keyup', onKeyUp);
  useEventListener(window, 'blur', letAllGo);
  useEventListener(document, 'visibilitychange', () => {
    if (document.hidden) letAllGo();
  });
  onScopeDispose(letAllGo);
}
