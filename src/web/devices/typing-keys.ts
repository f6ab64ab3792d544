/** The computer keyboard as piano keys: two rows, by where the keys lie and not by what is printed on them. */

const LOWER_ROW = [
  'KeyZ',
  'KeyS',
  'KeyX',
  'KeyD',
  'KeyC',
  'KeyV',
  'KeyG',
  'KeyB',
  'KeyH',
  'KeyN',
  'KeyJ',
  'KeyM',
  'Comma',
];
const UPPER_ROW = [
  'KeyQ',
  'Digit2',
  'KeyW',
  'Digit3',
  'KeyE',
  'KeyR',
  'Digit5',
  'KeyT',
  'Digit6',
  'KeyY',
  'Digit7',
  'KeyU',
  'KeyI',
  'Digit9',
  'KeyO',
  'Digit0',
  'KeyP',
];

const OFFSETS = new Map<string, number>([
  ...LOWER_ROW.map((code, offset) => [code, offset] as const),
  ...UPPER_ROW.map((code, offset) => [code, offset + 12] as const),
]);

/** Semitones above the start key that a physical key plays (common practice: an octave a row); null for other keys. */
export function typingKeyOffset(code: string): number | null {
  return OFFSETS.get(code) ?? null;
}

/** The letters that play keys, by note, from the note that the first of them plays; as printed on a US keyboard. */
export function lettersFrom(startNote: number): Map<number, string> {
  return new Map(
    [...OFFSETS].flatMap(([code, offset]) => {
      const note = startNote + offset;
      return note < 0 || note > 127
        ? []
        : [[note, code === 'Comma' ? ',' : code.replace(/^(Key|Digit)/, '').toLowerCase()] as const];
    }),
  );
}
