/**
 * Keys and controllers of a part that play no sound: they put its patterns and treatments on, mute, let it rest, deal;
 * as long as they are pressed, or for good.
 */
import { defineStore } from 'pinia';
import { reactive, watch } from 'vue';
import { choosePattern } from '#core/project/commands/patterns.ts';
import { isAt, laySwitch, takeSwitchOff, type SwitchPlace } from '#core/project/commands/switches.ts';
import { setValue } from '#core/project/commands/values.ts';
import type { KeySwitch } from '#core/document/schema.ts';
import { zoneValues } from '#core/queries/values.ts';
import { keyName } from '../../canvas/key-names.ts';
import { engine, notes } from '../../audio/services.ts';
import { useDealing } from '../pattern/dealing.ts';
import { usePlanSender } from '../sound/plan-sender.ts';
import { useProject } from '../document/project.ts';
import { useTreating } from '../sound/treating.ts';

/** For the engine: a part plays nothing. */
const REST = '';

/** Where a switch is, in short. */
export function placeWords({ key, control }: SwitchPlace): string {
  return key === null ? `controller ${control}` : keyName(key);
}

export const useSwitching = defineStore('switching', () => {
  const project = useProject();
  const dealing = useDealing();
  const treating = useTreating();
  const planSender = usePlanSender();
  /** Pattern that a key holds in place of the chosen one, by the part; '' while it rests. */
  const held = reactive(new Map<string, string>());
  /** What is put on for as long as its key is pressed, by the press, the latest last. */
  const pressed = new Map<number, { partId: string; wanted: string }>();
  /** Parts that were put to rest for good. */
  const resting = new Set<string>();

  // Another project begins with nothing held.
  watch(
    () => project.document?.id,
    () => {
      held.clear();
      pressed.clear();
      resting.clear();
    },
  );

  const switchOn = (partId: string, place: SwitchPlace): KeySwitch | undefined =>
    project.document?.parts[partId]?.switches?.find((one) => isAt(one, place));

  /** What the latest key that is still pressed says counts; without one, whether the part rests. */
  function follow(partId: string): void {
    const last = [...pressed.values()].findLast((press) => press.partId === partId);
    hold(partId, last?.wanted ?? (resting.has(partId) ? REST : null));
  }

  function hold(partId: string, patternId: string | null): void {
    if (patternId === null) held.delete(partId);
    else held.set(partId, patternId);
    engine.send({ type: 'hold-pattern', partId, patternId });
  }

  function mute(partId: string, zoneId: string): void {
    const zone = project.document?.zones[zoneId];
    if (!zone) return;
    const { muted } = zoneValues(zone);
    planSender.inTime(partId, () => {
      const change = { owners: [{ kind: 'zone', id: zoneId } as const], param: 'muted', change: { to: !muted } };
      project.run(muted ? 'no mute' : 'mute', setValue, change);
    });
  }

  function doIt(partId: string, one: KeySwitch, noteId: number): void {
    const { does, treatmentId, zoneId, whileHeld } = one;
    if (does === 'deal') dealing.dealPart(partId);
    else if (does === 'pattern' || does === 'rest') putPattern(partId, one, noteId);
    else if (whileHeld) treating.hold({ noteId, partId, treatmentId, zoneId });
    else if (does === 'mute') mute(partId, zoneId!);
    else treating.putOn(partId, treatmentId!);
  }

  function putPattern(partId: string, { does, patternId, whileHeld }: KeySwitch, noteId: number): void {
    const wanted = does === 'rest' ? REST : patternId!;
    if (whileHeld) {
      pressed.set(noteId, { partId, wanted });
      follow(partId);
    } else if (does === 'rest') {
      if (!resting.delete(partId)) resting.add(partId);
      follow(partId);
    } else {
      resting.delete(partId);
      follow(partId);
      if (project.document?.parts[partId]?.activePatternId !== wanted) {
        project.run('change pattern', choosePattern, { partId, patternId: wanted });
      }
    }
  }

  notes.switches = {
    isOne: (partId, place) => switchOn(partId, place) !== undefined,
    press: (partId, place, noteId) => {
      const found = switchOn(partId, place);
      if (found) doIt(partId, found, noteId);
      return found !== undefined;
    },
    release: (noteId) => {
      treating.letGo(noteId);
      const press = pressed.get(noteId);
      if (!press) return;
      pressed.delete(noteId);
      follow(press.partId);
    },
  };

  function lay(partId: string, wanted: KeySwitch): void {
    project.run(`switch on ${placeWords(wanted)}`, laySwitch, { partId, ...wanted });
  }

  function takeOff(partId: string, { key, control }: SwitchPlace): void {
    project.run(`no switch on ${placeWords({ key, control })}`, takeSwitchOff, { partId, key, control });
  }

  return { held, switchOn, lay, takeOff };
});
