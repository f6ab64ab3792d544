<script setup lang="ts">
/** The filter of one or several zones. */
import { computed } from 'vue';
import { ZONE_ROWS } from '#core/params/tables.ts';
import { valueOf, type Owner } from '#core/project/commands/values.ts';
import { useProject } from '../../stores/document/project.ts';
import FilterSetting from '../fields/FilterSetting.vue';
import DetailCard from './DetailCard.vue';

const props = defineProps<{ owners: readonly Owner[] }>();
const project = useProject();
const note = computed(() => {
  const kinds = new Set(props.owners.map((owner) => valueOf(project.document!, owner, 'filter')));
  if (kinds.size > 1) return 'mixed';
  return ZONE_ROWS.filter.choices.find(({ value }) => kinds.has(value))?.words ?? '';
});
</script>

<template>
  <DetailCard id="slice-filter" title="Filter" :note="note" folded>
    <FilterSetting :owners="owners" :height="72" />
  </DetailCard>
</template>
