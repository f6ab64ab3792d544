/** What sounded: by a key or a pattern, when, and where the song was. */
export interface PlayedNote {
  kind: 'on' | 'off';
  /** `helper`: what chord, runner or echoes press. */
  origin: 'key' | 'pattern' | 'helper';
  /** Frame at which it was played: for keys that of the press, which may lie before the sound. */
  frame: number;
  /** Song position there, in ticks; null while the song does not run. */
  songTicks: number | null;
  partId: string;
  /** Empty for a key that plays nothing. */
  zoneId: string;
  /** -1 for a pattern's. */
  key: number;
  velocity: number;
  noteId: number;
  /** How much higher than its key it sounds, in cents. */
  cents: number;
  /** An echo of another note. */
  isEcho: boolean;
  /** Length of a pattern's event, in ticks; of a helper's press until it is cut, 0 where it is not; 0 for keys. */
  lengthTicks: number;
}
