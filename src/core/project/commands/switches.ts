/** Keys and controllers of a part that play no sound: they put patterns and treatments on, mute, let it rest, deal. */
import { cutIdOfHome } from '../../document/home-id.ts';
import type { KeySwitch, Part } from '../../document/schema.ts';
import { find, refused, withPart, type Command } from './command.ts';

/** What a switch is put on by. */
export type SwitchPlace = Pick<KeySwitch, 'key' | 'control'>;

export function isAt(one: SwitchPlace, other: SwitchPlace): boolean {
  return one.key === other.key && one.control === other.control;
}

/** Why a switch of a part does nothing, in words; null when it does something. */
export function problemOfSwitch(
  part: Pick<Part, 'patternOrder' | 'cutOrder' | 'zoneOrder' | 'treatments'>,
  { does, patternId, treatmentId, zoneId }: KeySwitch,
): string | null {
  const homeOf = cutIdOfHome(patternId ?? '');
  const isPattern = homeOf === null ? part.patternOrder.includes(patternId ?? '') : part.cutOrder.includes(homeOf);
  if (does === 'pattern' && !isPattern) return 'this pattern is gone';
  if (does === 'treatment' && !part.treatments?.some(({ id }) => id === treatmentId)) return 'this treatment is gone';
  if (does === 'mute' && !part.zoneOrder.includes(zoneId ?? '')) return 'this sound is gone';
  return null;
}

/** Puts a switch on a key or controller; one that was there gives way. */
export const laySwitch: Command<{ partId: string } & KeySwitch> = (document, { partId, ...wanted }) => {
  const part = find(document.parts, partId);
  if (!part) return refused('this part is gone');
  const problem = problemOfSwitch(part, wanted);
  if (problem) return refused(problem);
  const { key, control, does, patternId, treatmentId, zoneId, whileHeld } = wanted;
  const laid: KeySwitch = {
    key,
    ...(control === undefined ? {} : { control }),
    does,
    patternId: does === 'pattern' ? patternId : null,
    ...(does === 'treatment' ? { treatmentId } : {}),
    ...(does === 'mute' ? { zoneId } : {}),
    whileHeld,
  };
  return withPart(document, partId, (current) => ({
    ...current,
    switches: [...(current.switches ?? []).filter((one) => !isAt(one, laid)), laid],
  }));
};

export const takeSwitchOff: Command<{ partId: string } & SwitchPlace> = (document, { partId, ...place }) =>
  withPart(document, partId, (part) => withoutSwitches(part, (one) => isAt(one, place)));

/** A part without the switches that go. */
export function withoutSwitches<P extends Pick<Part, 'switches'>>(part: P, goes: (one: KeySwitch) => boolean): P {
  const { switches = [], ...rest } = part;
  const left = switches.filter((one) => !goes(one));
  if (left.length === switches.length) return part;
  return (left.length > 0 ? { ...rest, switches: left } : rest) as P;
}
