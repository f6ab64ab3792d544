/** Keys of a part that play no sound: they put patterns on, let the part rest, deal. */
import { cutIdOfHome, type KeySwitch, type Part } from '../schema.ts';
import { refused, withPart, type Command } from './command.ts';

/** Puts a switch on a key; one that was there gives way. */
export const laySwitch: Command<{ partId: string } & KeySwitch> = (document, { partId, ...wanted }) => {
  const part = document.parts[partId];
  const homeOf = cutIdOfHome(wanted.patternId ?? '');
  const isThere =
    homeOf === null ? part?.patternOrder.includes(wanted.patternId ?? '') : part?.cutOrder.includes(homeOf);
  if (wanted.does === 'pattern' && !isThere) return refused('this pattern is gone');
  const laid = wanted.does === 'pattern' ? wanted : { ...wanted, patternId: null };
  return withPart(document, partId, (current) => ({
    ...current,
    switches: [...(current.switches ?? []).filter(({ key }) => key !== laid.key), laid],
  }));
};

export const takeSwitchOff: Command<{ partId: string; key: number }> = (document, { partId, key }) =>
  withPart(document, partId, (part) => withSwitches(part, (one) => one.key !== key));

/** A part without the switches to a pattern. */
export function withoutSwitchesTo(part: Part, patternId: string): Part {
  return withSwitches(part, (one) => one.patternId !== patternId);
}

function withSwitches(part: Part, stays: (one: KeySwitch) => boolean): Part {
  const { switches = [], ...rest } = part;
  const left = switches.filter(stays);
  if (left.length === switches.length) return part;
  return left.length > 0 ? { ...rest, switches: left } : rest;
}
