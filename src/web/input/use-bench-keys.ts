/** The keyboard on the bench: shortcuts, and letters that play slices. */
import { onBeforeUnmount, onMounted } from 'vue';
import { actionOf, isTyping, type ActionId } from './shortcuts.ts';
import { typingKeyOffset } from './typing-keys.ts';

export interface SliceKeys {
  down(offset: number, timeStamp: number): void;
  up(offset: number, timeStamp?: number): void;
}

/** Listens while the calling component is on screen; `blocked` stops it, for open dialogs. */
export function useBenchKeys(actions: Record<ActionId, () => void>, keys: SliceKeys, blocked: () => boolean): void {
  const held = new Set<number>();

  function onKeyDown(event: KeyboardEvent): void {
    if (blocked() || isTyping(event)) return;
    const action = actionOf(event);
    if (action) {
      event.preventDefault();
      // Space on a focused button would press that button, too.
      if (event.repeat && (action === 'play' || action === 'deal')) return;
      if (document.activeElement instanceof HTMLButtonElement) document.activeElement.blur();
      actions[action]();
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
    const offset = typingKeyOffset(event.code);
    if (offset !== null && held.delete(offset)) keys.up(offset, event.timeStamp);
  }

  function letAllGo(): void {
    for (const offset of held) keys.up(offset);
    held.clear();
  }

  onMounted(() => {
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', letAllGo);
  });
  onBeforeUnmount(() => {
    window.removeEventListener('keydown', onKeyDown);
    window.removeEventListener('keyup', onKeyUp);
    window.removeEventListener('blur', letAllGo);
    letAllGo();
  });
}
