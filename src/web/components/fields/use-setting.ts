/**
 * A setting of the table for one owner or for several: what every field of it needs. Its words, range, unit and reset
 * come from its row. What differs shows as mixed; how a drag changes several is the user's choice (`session.together`).
 */
import { computed, onBeforeUnmount, type ComputedRef } from 'vue';
import type { Row } from '#core/params/row.ts';
import {
  isMixedValue,
  rowOf,
  setValue,
  valueOf,
  type Owner,
  type SetValueArgs,
  type Value,
} from '#core/project/commands/values.ts';
import type { Gesture } from '../../stores/document/gesture.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

export interface SettingProps {
  owners: readonly Owner[];
  param: string;
  /** Other words than the row's, where the place says the rest. */
  label?: string;
  unit?: string;
  testId?: string;
  showLabel?: boolean;
  /** In place of the command, where setting it takes more than that: strips of a home pattern are copied first. */
  put?: (label: string, param: string, change: SetValueArgs['change']) => void;
}

export interface Setting<R extends Row> {
  row: ComputedRef<R | null>;
  /** Of the first owner. */
  value: ComputedRef<Value | null>;
  isMixed: ComputedRef<boolean>;
  words: ComputedRef<string>;
  /** Sets all to the same. */
  set(to: Value): void;
  /** Begins a drag: what follows is one step. */
  begin(): void;
  /** A number within a drag: sets all to it, or moves each by as much as the first, as chosen. */
  drag(to: number): void;
  end(how: 'commit' | 'cancel'): void;
}

export function useSetting<R extends Row>(props: SettingProps): Setting<R> {
  const project = useProject();
  const session = useSession();
  const row = computed(() =>
    project.document && props.owners[0] ? (rowOf(project.document, props.owners[0], props.param) as R | null) : null,
  );
  const value = computed(() => {
    const owner = props.owners[0];
    if (!project.document || !owner) return null;
    return project.shownInstead?.(owner, props.param) ?? valueOf(project.document, owner, props.param);
  });
  const isMixed = computed(
    () => project.document !== null && isMixedValue(project.document, props.owners, props.param),
  );
  const words = computed(() => props.label ?? row.value?.label ?? props.param);
  let gesture: Gesture | null = null;
  let startValue = 0;

  function change(how: SetValueArgs['change']): void {
    if (props.put) props.put(words.value, props.param, how);
    else project.run(words.value, setValue, { owners: props.owners, param: props.param, change: how });
  }

  function begin(): void {
    startValue = value.value as number;
    gesture = project.begin(words.value);
  }

  function drag(to: number): void {
    // Undone, or ended otherwise, while the hand still drags.
    if (gesture && !gesture.isOpen) return;
    if (!isMixed.value || session.together === 'same') {
      change({ to });
      return;
    }
    const by = { by: to - startValue };
    // From the start of the drag: what has come to an end of its range on the way comes back from where it was.
    if (gesture && !props.put) gesture.replay(setValue, { owners: props.owners, param: props.param, change: by });
    else {
      gesture?.rewind();
      change(by);
    }
  }

  function end(how: 'commit' | 'cancel'): void {
    gesture?.[how]();
    gesture = null;
  }
  onBeforeUnmount(() => end('commit'));

  return { row, value, isMixed, words, set: (to) => change({ to }), begin, drag, end };
}
