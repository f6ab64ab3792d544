/**
 * Settings of the effects, by kind. A new effect is a file of rows in effect-rows, one of its sound in engine/mix/effects,
 * and a line here.
 */
import { CATCH_ROWS } from './effect-rows/catch.ts';
import { COMB_ROWS } from './effect-rows/comb.ts';
import { COMPRESSOR_ROWS } from './effect-rows/compressor.ts';
import { CRUSH_ROWS } from './effect-rows/crush.ts';
import { DRIVE_ROWS } from './effect-rows/drive.ts';
import { DUCKING_ROWS } from './effect-rows/ducking.ts';
import { ECHO_ROWS } from './effect-rows/echo.ts';
import { EQUALISER_ROWS } from './effect-rows/equaliser.ts';
import { FILTER_ROWS } from './effect-rows/filter.ts';
import { GATE_ROWS } from './effect-rows/gate.ts';
import { HITS_ROWS } from './effect-rows/hits.ts';
import { LIMITER_ROWS } from './effect-rows/limiter.ts';
import { PATHS_ROWS } from './effect-rows/paths.ts';
import { ROOM_ROWS } from './effect-rows/room.ts';
import { SHIFTER_ROWS } from './effect-rows/shifter.ts';
import { SLOT_ROWS } from './effect-rows/slot.ts';
import { SWAY_ROWS } from './effect-rows/sway.ts';
import { WIDTH_ROWS } from './effect-rows/width.ts';
import { slotsOf, type Rows } from './row.ts';

export const SLOT = slotsOf(SLOT_ROWS);

export const EFFECT_ROWS = {
  drive: DRIVE_ROWS,
  crush: CRUSH_ROWS,
  filter: FILTER_ROWS,
  equaliser: EQUALISER_ROWS,
  compressor: COMPRESSOR_ROWS,
  ducking: DUCKING_ROWS,
  hits: HITS_ROWS,
  gate: GATE_ROWS,
  limiter: LIMITER_ROWS,
  echo: ECHO_ROWS,
  room: ROOM_ROWS,
  comb: COMB_ROWS,
  shifter: SHIFTER_ROWS,
  sway: SWAY_ROWS,
  catch: CATCH_ROWS,
  width: WIDTH_ROWS,
  paths: PATHS_ROWS,
} as const satisfies Record<string, Rows>;
export type EffectKind = keyof typeof EFFECT_ROWS;

/** What an effect is called, and what it is for. */
export const EFFECT_WORDS: Readonly<Record<EffectKind, string>> = {
  drive: 'drive',
  crush: 'crush',
  filter: 'filter',
  equaliser: 'equaliser',
  compressor: 'compressor',
  ducking: 'ducking',
  hits: 'attack and body',
  gate: 'gate',
  limiter: 'limiter',
  echo: 'echo',
  room: 'room',
  comb: 'tuned comb',
  shifter: 'frequency shifter',
  sway: 'chorus, flanger, phaser',
  catch: 'catch',
  width: 'width',
  paths: 'side by side',
};
export const EFFECT_KINDS = Object.keys(EFFECT_ROWS) as EffectKind[];
