<script setup lang="ts">
/** The modulators of the chosen sounds, and of all the part beneath; or of the part alone: what the card holds when it is open. */
import { computed } from 'vue';
import { MODULATOR_KINDS, MODULATOR_WORDS, type ModulatorKind } from '#core/params/modulators.ts';
import type { ZONE_ROWS } from '#core/params/tables.ts';
import { addModulator } from '#core/project/commands/modulators.ts';
import type { Modulator } from '#core/document/schema.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import ModulatorRows from './ModulatorRows.vue';

const { partOnly = false } = defineProps<{ partOnly?: boolean }>();
const project = useProject();
const session = useSession();

/** What each kind moves at first, and how far. */
const USUAL: Partial<Record<ModulatorKind, { paramId: keyof typeof ZONE_ROWS; amount: number }>> = {
  lfo: { paramId: 'cutoffHz', amount: 0.25 },
  envelope: { paramId: 'cutoffHz', amount: 0.5 },
  steps: { paramId: 'gainDb', amount: 0.5 },
  curve: { paramId: 'gainDb', amount: 0.5 },
  random: { paramId: 'tuneCents', amount: 0.1 },
  bend: { paramId: 'cutoffHz', amount: 0.5 },
};
const OTHERWISE = { paramId: 'cutoffHz' as const, amount: 0.5 };

const ofOwner = (ownerId: string): Modulator[] =>
  Object.values(project.document!.modulators).filter((modulator) => modulator.ownerId === ownerId);
const zones = computed(() => (partOnly ? [] : session.selectedZones));
/** Of the first sound, each with those of the others that stand at the same place: they are set together. */
const groups = computed(() => {
  const lists = zones.value.map(({ zone }) => ofOwner(zone.id));
  return (lists[0] ?? []).map((modulator, place) => [
    modulator,
    ...lists.slice(1).flatMap((list) => (list[place]?.kind === modulator.kind ? [list[place]] : [])),
  ]);
});
const ofPart = computed(() => (session.part ? ofOwner(session.part.id) : []));
function add(kind: ModulatorKind, toPart: boolean): void {
  const owners = toPart ? [session.part!.id] : zones.value.map(({ zone }) => zone.id);
  project.step(`move by ${MODULATOR_WORDS[kind]}`, () => {
    for (const ownerId of owners) project.run('', addModulator, { ownerId, kind, ...(USUAL[kind] ?? OTHERWISE) });
  });
}
</script>

<template>
  <div class="moved">
    <ModulatorRows v-for="group in groups" :key="group[0]!.id" :modulators="group" />
    <template v-if="ofPart.length > 0">
      <span v-if="!partOnly" class="quiet small">all of the part</span>
      <ModulatorRows v-for="modulator in ofPart" :key="modulator.id" :modulators="[modulator]" />
    </template>
    <div class="buttons">
      <v-menu v-for="toPart in partOnly ? [true] : [false, true]" :key="String(toPart)">
        <template #activator="{ props: menu }">
          <v-btn
            v-bind="menu"
            :prepend-icon="ICONS.add"
            :data-tip="toPart ? 'Moves every sound of the part' : 'Moves the chosen sounds'"
            >{{ toPart ? 'for the part' : 'for these' }}</v-btn
          >
        </template>
        <v-list>
          <v-list-item
            v-for="kind in MODULATOR_KINDS"
            :key="kind"
            :title="MODULATOR_WORDS[kind]"
            @click="add(kind, toPart)"
          />
        </v-list>
      </v-menu>
    </div>
  </div>
</template>

<style scoped>
.moved {
  display: grid;
  gap: 8px;
}
</style>
