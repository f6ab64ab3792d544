/** The envelope that a zone's settings and the strength of a hit give. */
import { msToFrames } from '../../units/time.ts';
import { ZONE } from '../zone-state.ts';
import type { EnvelopeShape } from './envelope.ts';

/** Shared: to be used before the next, for nothing may be allocated while sound runs. */
const shape: EnvelopeShape = {
  attackFrames: 0,
  holdFrames: 0,
  decayFrames: 0,
  sustain: 1,
  attackBend: 0,
  decayBend: 0,
};

/** @param values in the order of ZONE_ROWS @param velocity 0..1 */
export function zoneEnvelope(values: Float64Array, velocity: number, sampleRate: number): EnvelopeShape {
  const attackMs = values[ZONE.attackMs]! + values[ZONE.velocityAttackMs]! * (1 - velocity);
  shape.attackFrames = msToFrames(attackMs, sampleRate);
  shape.holdFrames = msToFrames(values[ZONE.holdMs]!, sampleRate);
  shape.decayFrames = msToFrames(values[ZONE.decayMs]!, sampleRate);
  shape.sustain = values[ZONE.sustain]!;
  shape.attackBend = values[ZONE.attackBend]!;
  shape.decayBend = values[ZONE.decayBend]!;
  return shape;
}
