/**
 * How parts sound where the running order puts a treatment on: what changes of the plan there, and what changes back
 * after it. Compiled beside the plan, from the document with the treatment laid over it.
 */
import type { ProjectDocument } from '../../document/schema.ts';
import { withEachTreatment } from '../../order/treated.ts';
import { isSameList } from '../../units/same-list.ts';
import type { Look, LookPatch, PartLooks, PlanPatch } from './fragments.ts';
import type { PlanInputs } from './plan-inputs.ts';

/** What compiles a document, one after another. */
interface Compiler {
  update(document: ProjectDocument, inputs: PlanInputs): PlanPatch | null;
}

function lookPatch(patch: PlanPatch | null): LookPatch {
  const { values = [], channels = [], modulators = [], zones = [] } = patch ?? {};
  return { values, channels, modulators, zones };
}

export class LookCompiler {
  /** What {@link update} gave last. */
  latest: readonly PartLooks[] = [];
  private inputs: readonly unknown[] = [];

  /** @param beside compiles the document with and without each treatment, in turns */
  constructor(private readonly beside: Compiler) {}

  /** Of all parts of which one is put on; the same list as long as nothing of them is another. */
  update(document: ProjectDocument, given: PlanInputs): readonly PartLooks[] {
    const treated = withEachTreatment(document);
    if (treated.length === 0) return this.latest.length === 0 ? this.latest : (this.latest = []);
    // Patterns, rooms of the order and what is named in it sound the same in any treatment.
    const { parts, zones, channels, effects, sends, modulators, routes, helpers, cuts, song, sources } = document;
    const tables = [parts, zones, channels, effects, sends, modulators, routes, helpers, cuts, song, sources];
    const wanted = treated.map(({ treatmentId }) => treatmentId).join(' ');
    const { renderings, assets } = given;
    const inputs = [...tables, document.sections, wanted, renderings, renderings?.version, assets, assets.size];
    if (isSameList(inputs, this.inputs)) return this.latest;
    this.inputs = inputs;
    this.beside.update(document, given);
    const byPart = new Map<string, Look[]>();
    for (const { partId, treatmentId, document: laid } of treated) {
      const on = lookPatch(this.beside.update(laid, given));
      const off = lookPatch(this.beside.update(document, given));
      const looks = byPart.get(partId) ?? [];
      looks.push({ treatmentId, on, off });
      byPart.set(partId, looks);
    }
    this.latest = [...byPart].map(([partId, looks]) => ({ partId, looks }));
    return this.latest;
  }

  /** Zones as they are in any of them. */
  get zones(): LookPatch['zones'] {
    return this.latest.flatMap(({ looks }) => looks.flatMap(({ on, off }) => [...on.zones, ...off.zones]));
  }
}
