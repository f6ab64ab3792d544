/** Numbers that documents go by, apart from their schemas: whoever only counts needs no checks. */
export const SCHEMA_VERSION = 7;

/** Longest sound that a document may speak of, in frames. */
export const MAX_FRAMES = 2 ** 31 - 1;
export const MAX_BARS = 512;
/** Longest pattern: 512 bars of sixteen quarters. */
export const MAX_TICKS = MAX_BARS * 16 * 960;
/** Most points of a lane, and most dials of a project. */
export const MAX_LANE_POINTS = 16_384;
export const MAX_MACROS = 64;
/** Most sections of a running order, and most placings in one of them. */
export const MOST_SECTIONS = 2000;
/** Where a pattern puts treatments on. */
export const MOST_TREATMENT_CHANGES = 512;
export const MOST_PLACINGS = 512;
/** Longest running order with its repeats, in quarter notes: a day at 138 beats a minute. */
export const LONGEST_ORDER_BEATS = 200_000;
/** Colours that a pattern may be marked by, by their places. */
export const PATTERN_COLOURS = 8;
/** Every strength that a press may have, without a fade. */
export const ALL_VELOCITIES = { low: 1, high: 127, fade: 0 };
/** What a key or controller of a part does that plays no sound. */
export const SWITCH_KINDS = ['pattern', 'treatment', 'mute', 'rest', 'deal'] as const;
/** A part's own; a bus that others are led into; the one that all come to. */
export const CHANNEL_KINDS = ['part', 'bus', 'main'] as const;
