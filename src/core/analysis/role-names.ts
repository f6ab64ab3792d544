/** What a slice may be. Apart from guessing it, which needs much more. */
export const ROLES = [
  'kick',
  'snare',
  'rim',
  'clap',
  'closed hat',
  'open hat',
  'tom',
  'cymbal',
  'percussion',
  'bass',
  'note',
  'chord',
  'other',
] as const;
export type Role = (typeof ROLES)[number];
