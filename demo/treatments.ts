/** Ways to sound of the crossing's break: one of them on a key, as long as that is pressed. */
import { laySwitch } from '#core/project/commands/switches.ts';
import { keepTreatment, putTreatmentOn } from '#core/project/commands/treatments.ts';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import type { ZoneValues } from '#core/params/tables.ts';
import type { ProjectMaker } from './project-maker.ts';

/** Below the keys that switch patterns. */
const BELOW_DECK_KEY = 44;

const SOUNDS: Record<string, Partial<ZoneValues>> = {
  'below deck': { filter: 'low', cutoffHz: 700, resonance: 0.2, gainDb: -1.5 },
  'ship’s radio': { filter: 'band', cutoffHz: 1800, resonance: 0.35, driveDb: 9, gainDb: -2, decayMs: 220, sustain: 0 },
};

export function treatments(maker: ProjectMaker, partId: string): void {
  const part = () => maker.document.parts[partId]!;
  const owners = part().zoneOrder.map((id): Owner => ({ kind: 'zone', id }));
  maker.run(keepTreatment, { partId, name: 'on deck' });
  const plainId = part().treatments![0]!.id;
  for (const [name, values] of Object.entries(SOUNDS)) {
    for (const [param, to] of Object.entries(values)) {
      maker.run(setValue, { owners, param, change: { to: to as Value } });
    }
    maker.run(keepTreatment, { partId, name });
    maker.run(putTreatmentOn, { partId, treatmentId: plainId });
  }
  const treatmentId = part().treatments!.find(({ name }) => name === 'below deck')!.id;
  const wanted = { does: 'treatment', patternId: null, treatmentId, whileHeld: true } as const;
  maker.run(laySwitch, { partId, key: BELOW_DECK_KEY, ...wanted });
}
