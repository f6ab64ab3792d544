<script setup lang="ts">
/** What moves settings while they play: of the chosen sounds and of all their part, or of the part alone. */
import { computed, defineAsyncComponent } from 'vue';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import DetailCard from './DetailCard.vue';

const { partOnly = false } = defineProps<{ partOnly?: boolean }>();
// Folded at first, and large.
const MovedByRows = defineAsyncComponent(() => import('./MovedByRows.vue'));
const project = useProject();
const session = useSession();

/** The settings of sounds that are moved, by their names. */
const note = computed(() => {
  const { modulators, routes } = project.document!;
  const owners = new Set(partOnly ? [] : session.selectedZones.map(({ zone }) => zone.id));
  if (session.part) owners.add(session.part.id);
  const words = Object.values(routes).flatMap(({ modulatorId, target, paramId }) => {
    const isMoved = target.kind === 'zone' && owners.has(modulators[modulatorId]?.ownerId ?? '');
    return isMoved ? ZONE_ROWS[paramId as keyof typeof ZONE_ROWS].label : [];
  });
  return [...new Set(words)].join(', ');
});
</script>

<template>
  <DetailCard :id="partOnly ? 'part-moved' : 'zone-moved'" title="Moved by" :note="note" folded>
    <MovedByRows :part-only="partOnly" />
  </DetailCard>
</template>
