/**
 * How parts sound as long as keys are pressed: treatments and mutes that lie over the document. What is heard is the
 * document with them; they are never saved, and are gone with their keys.
 */
import { defineStore } from 'pinia';
import { computed, shallowRef, watch } from 'vue';
import { treatmentOf } from '#core/project/commands/treatments.ts';
import type { ProjectDocument, Treatment } from '#core/document/schema.ts';
import { treatmentsPutOn } from '#core/order/treated.ts';
import { withTreatment } from '#core/queries/treatments.ts';
import { useProject } from '../document/project.ts';

export interface HeldSound {
  /** The press that holds it. */
  noteId: number;
  partId: string;
  /** The treatment that is put on, or the sound that is muted. */
  treatmentId?: string | undefined;
  zoneId?: string | undefined;
}

/** What the running order would put on meanwhile sounds as what is held. */
function heldOver(document: ProjectDocument, partId: string, held: Treatment): ProjectDocument {
  const part = document.parts[partId]!;
  if (!treatmentsPutOn(document).some((one) => one.part.id === partId)) return document;
  const treatments = part.treatments!.map(({ id, name }) => ({ ...held, id, name }));
  return { ...document, parts: { ...document.parts, [partId]: { ...part, treatments } } };
}

function laidOver(document: ProjectDocument, { partId, treatmentId, zoneId }: HeldSound): ProjectDocument {
  const part = document.parts[partId];
  const treatment = treatmentOf(part, treatmentId ?? '');
  const zone = document.zones[zoneId ?? ''];
  if (part && treatment) return heldOver(withTreatment(document, part, treatment), partId, treatment);
  if (!zone) return document;
  const values = { ...zone.values, muted: true };
  return { ...document, zones: { ...document.zones, [zone.id]: { ...zone, values } } };
}

export const useHeldSounds = defineStore('held-sounds', () => {
  const project = useProject();
  const presses = shallowRef<readonly HeldSound[]>([]);
  /** The document as it is heard. */
  const heard = computed(() => project.document && presses.value.reduce(laidOver, project.document));

  function press(held: HeldSound): void {
    presses.value = [...presses.value, held];
  }

  /** @returns what the press held, if anything */
  function release(noteId: number): HeldSound | undefined {
    const held = presses.value.find((one) => one.noteId === noteId);
    if (held) presses.value = presses.value.filter((one) => one !== held);
    return held;
  }

  watch(
    () => project.document?.id,
    () => (presses.value = []),
  );

  return { presses, heard, press, release };
});
