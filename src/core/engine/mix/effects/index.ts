/** Makes effects by their kind; those that hold others are made with their place: see make-slot.ts. */
import type { EffectKind } from '../../../params/effects.ts';
import { CatchEffect } from './catch.ts';
import { CombEffect } from './comb.ts';
import { CompressorEffect } from './compressor.ts';
import { CrushEffect } from './crush.ts';
import { DriveEffect } from './drive.ts';
import { DuckingEffect } from './ducking.ts';
import { EchoEffect } from './echo.ts';
import type { Effect } from './effect.ts';
import { EqualiserEffect } from './equaliser.ts';
import { FilterEffect } from './filter.ts';
import { GateEffect } from './gate.ts';
import { HitsEffect } from './hits.ts';
import { LimiterEffect } from './limiter.ts';
import { RoomEffect } from './room.ts';
import { ShifterEffect } from './shifter.ts';
import { SwayEffect } from './sway.ts';
import { WidthEffect } from './width.ts';

const makers: Record<Exclude<EffectKind, 'paths'>, new (sampleRate: number) => Effect> = {
  drive: DriveEffect,
  crush: CrushEffect,
  filter: FilterEffect,
  equaliser: EqualiserEffect,
  compressor: CompressorEffect,
  ducking: DuckingEffect,
  hits: HitsEffect,
  gate: GateEffect,
  limiter: LimiterEffect,
  echo: EchoEffect,
  room: RoomEffect,
  comb: CombEffect,
  shifter: ShifterEffect,
  sway: SwayEffect,
  catch: CatchEffect,
  width: WidthEffect,
};

export function makeEffect(kind: keyof typeof makers, sampleRate: number): Effect {
  return new makers[kind](sampleRate);
}
