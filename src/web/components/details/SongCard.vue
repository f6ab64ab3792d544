<script setup lang="ts">
/** What belongs to the whole song: its swing and its root. Its click stands in the transport. */
import { computed } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import { songValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import ParamField from '../fields/ParamField.vue';
import DetailCard from './DetailCard.vue';

const project = useProject();
const song: Owner[] = [{ kind: 'song' }];
const note = computed(() => `${songValues(project.document!).swingPercent} % swing`);
</script>

<template>
  <DetailCard id="song" title="Song" :note="note" folded>
    <ParamField :owners="song" param="swingPercent" test-id="song-swing" />
    <ParamField :owners="song" param="rootNote" test-id="song-root" />
  </DetailCard>
</template>
