/** Waiting for reactive state. */
import { watch } from 'vue';

/** Resolves as soon as a condition on reactive state holds. */
export function until(holds: () => boolean): Promise<void> {
  return new Promise((resolve) => {
    const stop = watch(
      holds,
      (value) => {
        if (!value) return;
        resolve();
        queueMicrotask(() => stop());
      },
      { immediate: true },
    );
  });
}
