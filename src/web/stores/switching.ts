/** Keys of a part that play no sound: they put its patterns on, let it rest, deal; as long as they are pressed, or for good. */
import { defineStore } from 'pinia';
import { reactive, watch } from 'vue';
import { choosePattern } from '#core/project/commands/patterns.ts';
import { laySwitch, takeSwitchOff } from '#core/project/commands/switches.ts';
import type { KeySwitch } from '#core/project/schema.ts';
import { keyName } from '../canvas/key-names.ts';
import { engine, notes } from '../audio/services.ts';
import { useDealing } from './dealing.ts';
import { useProject } from './project.ts';

/** For the engine: a part plays nothing. */
const REST = '';

export const useSwitching = defineStore('switching', () => {
  const project = useProject();
  const dealing = useDealing();
  /** Pattern that a key holds in place of the chosen one, by the part; '' while it rests. */
  const held = reactive(new Map<string, string>());
  /** Parts whose key is still pressed, by the press. */
  const pressed = new Map<number, { partId: string; was: string | null }>();

  // Another project begins with nothing held.
  watch(
    () => project.document?.id,
    () => {
      held.clear();
      pressed.clear();
    },
  );

  const switchOn = (partId: string, key: number): KeySwitch | undefined =>
    project.document?.parts[partId]?.switches?.find((one) => one.key === key);

  function hold(partId: string, patternId: string | null): void {
    if (patternId === null) held.delete(partId);
    else held.set(partId, patternId);
    engine.send({ type: 'hold-pattern', partId, patternId });
  }

  function doIt(partId: string, { does, patternId, whileHeld }: KeySwitch, noteId: number): void {
    if (does === 'deal') {
      dealing.dealPart(partId);
      return;
    }
    const wanted = does === 'rest' ? REST : patternId!;
    if (whileHeld) {
      pressed.set(noteId, { partId, was: held.get(partId) ?? null });
      hold(partId, wanted);
    } else if (does === 'rest') hold(partId, held.get(partId) === REST ? null : REST);
    else {
      hold(partId, null);
      if (project.document?.parts[partId]?.activePatternId !== wanted) {
        project.run('change pattern', choosePattern, { partId, patternId: wanted });
      }
    }
  }

  notes.switches = {
    press: (partId, key, noteId) => {
      const found = switchOn(partId, key);
      if (found) doIt(partId, found, noteId);
      return found !== undefined;
    },
    release: (noteId) => {
      const press = pressed.get(noteId);
      if (!press) return;
      pressed.delete(noteId);
      hold(press.partId, press.was);
    },
  };

  function lay(partId: string, wanted: KeySwitch): void {
    project.run(`switch on ${keyName(wanted.key)}`, laySwitch, { partId, ...wanted });
  }

  function takeOff(partId: string, key: number): void {
    project.run(`no switch on ${keyName(key)}`, takeSwitchOff, { partId, key });
  }

  return { held, switchOn, lay, takeOff };
});
