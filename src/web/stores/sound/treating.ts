/** Ways to sound of the parts: kept, put on while the song runs, named and given up. */
import { defineStore } from 'pinia';
import { reactive } from 'vue';
import {
  keepTreatment,
  putTreatmentOn,
  removeTreatment,
  renameTreatment,
  treatmentOf,
} from '#core/project/commands/treatments.ts';
import type { Part } from '#core/document/schema.ts';
import { soundsAs } from '#core/queries/treatments.ts';
import { useNotices } from '../frame/notices.ts';
import { useHeldSounds, type HeldSound } from './held-sounds.ts';
import { usePlanSender } from './plan-sender.ts';
import { useProject } from '../document/project.ts';
import { useTransport } from './transport.ts';

export const useTreating = defineStore('treating', () => {
  const project = useProject();
  const planSender = usePlanSender();
  const heldSounds = useHeldSounds();
  const transport = useTransport();
  const notices = useNotices();
  /** The treatment that was asked for last, by the part: the one that waits, if one does. */
  const asked = reactive(new Map<string, string>());

  const nameOf = (partId: string, treatmentId: string) =>
    treatmentOf(project.document?.parts[partId], treatmentId)?.name ?? 'treatment';

  /** The part sounds so from now on; while the song runs from where another pattern would take over. */
  function putOn(partId: string, treatmentId: string): void {
    asked.set(partId, treatmentId);
    planSender.inTime(partId, () => {
      project.run(`put “${nameOf(partId, treatmentId)}” on`, putTreatmentOn, { partId, treatmentId });
    });
  }

  /** A treatment or a mute as long as a key is pressed. */
  function hold(held: HeldSound): void {
    if (held.treatmentId !== undefined) asked.set(held.partId, held.treatmentId);
    planSender.inTime(held.partId, () => heldSounds.press(held));
  }

  function letGo(noteId: number): void {
    const held = heldSounds.presses.find((one) => one.noteId === noteId);
    if (held) planSender.inTime(held.partId, () => heldSounds.release(noteId));
  }

  /** Keeps how the part sounds now, as a new treatment or in place of one. */
  function keep(partId: string, treatmentId?: string): void {
    const label = treatmentId === undefined ? 'keep a treatment' : `keep “${nameOf(partId, treatmentId)}” anew`;
    project.run(label, keepTreatment, { partId, ...(treatmentId === undefined ? {} : { treatmentId }) });
  }

  function rename(partId: string, treatmentId: string, name: string): void {
    project.run('rename a treatment', renameTreatment, { partId, treatmentId, name });
  }

  function remove(partId: string, treatmentId: string): void {
    project.run(`give “${nameOf(partId, treatmentId)}” up`, removeTreatment, { partId, treatmentId });
  }

  /** A dial that leads from one treatment to another; over the pattern that is played, with a lane that moves it. */
  async function blend(part: Part, fromId: string, toId: string, isOverPattern: boolean): Promise<void> {
    const { blendTreatments } = await import('#core/project/commands/blend-treatments.ts');
    const { blendOf } = await import('#core/queries/blends.ts');
    const { useDials } = await import('./dials.ts');
    const { document } = project;
    const [from, to] = [treatmentOf(part, fromId), treatmentOf(part, toId)];
    if (!document || !from || !to) return;
    const { steps, staying } = blendOf(document, part, from, to);
    const label = `from “${from.name}” to “${to.name}”`;
    const over = isOverPattern ? { patternId: part.activePatternId } : {};
    const [place = 0] = useDials().freePlaces;
    if (!project.run(label, blendTreatments, { partId: part.id, fromId, toId, place, ...over })) return;
    const where = isOverPattern ? 'A lane over the pattern moves it' : 'It stands among the dials';
    const rest = staying > 0 ? ` ${staying} have no way between and stay as “${from.name}” has them.` : '';
    notices.info(`The dial “${from.name} – ${to.name}” moves ${steps.length} settings. ${where}.${rest}`);
  }

  /** The treatments of a part: the one that is heard, and the one that waits. */
  function statesOf(part: Part): { id: string; name: string; isOn: boolean; isHeld: boolean; waits: boolean }[] {
    const { document } = project;
    if (!document) return [];
    const held = heldSounds.presses.filter(({ partId }) => partId === part.id).at(-1)?.treatmentId;
    return (part.treatments ?? []).map((one) => ({
      id: one.id,
      name: one.name,
      isOn: soundsAs(document, part, one),
      isHeld: one.id === held,
      waits: transport.waitingSounds.has(part.id) && asked.get(part.id) === one.id,
    }));
  }

  /** The treatment after the one that is on; the first one where none is. */
  function putNextOn(part: Part): void {
    const states = statesOf(part);
    const next = states[(states.findIndex(({ isOn }) => isOn) + 1) % states.length];
    if (next) putOn(part.id, next.id);
    else notices.info('No treatment yet: keep one first.');
  }

  return { blend, putNextOn, putOn, hold, letGo, keep, rename, remove, statesOf };
});
