<script setup lang="ts">
/** The part: how it keeps time, how its loop is read, its feel, its level. */
import { computed, defineAsyncComponent, useTemplateRef } from 'vue';
import { untilQuiet } from '../../when-quiet.ts';
import { useSession } from '../../stores/document/session.ts';
import NameField from '../fields/NameField.vue';
import PartMenu from '../parts/PartMenu.vue';
import { usePartActions } from '../parts/use-part-actions.ts';
import IconButton from '../shared/IconButton.vue';
import DetailHead from './DetailHead.vue';
import FeelCard from './FeelCard.vue';
import LoopCard from './LoopCard.vue';
import PlayingCard from './PlayingCard.vue';
import TimeCard from './TimeCard.vue';

// Of sounds that are no loops.
const NoLoopCard = defineAsyncComponent(() => import('./NoLoopCard.vue'));
// Below what is seen first.
const MovedByCard = defineAsyncComponent(() => untilQuiet().then(() => import('./MovedByCard.vue')));
const TreatmentsCard = defineAsyncComponent(() => untilQuiet().then(() => import('./TreatmentsCard.vue')));
const ChannelCard = defineAsyncComponent(() => untilQuiet().then(() => import('./ChannelCard.vue')));
const SongCard = defineAsyncComponent(() => untilQuiet().then(() => import('./SongCard.vue')));
const ByHandCard = defineAsyncComponent(() => untilQuiet().then(() => import('../controllers/ByHandCard.vue')));

const session = useSession();
const part = computed(() => session.part!);
const nameField = useTemplateRef('nameField');
const { rename, duplicate } = usePartActions(() => part.value);
</script>

<template>
  <DetailHead :title="part.name" beside>
    <IconButton icon="copy" words="copy" hint="This part once more, with its cut and patterns" @click="duplicate" />
    <PartMenu :part="part" @rename="nameField?.edit()" />
  </DetailHead>
  <NameField ref="nameField" :name="part.name" what="part" class="renaming" @rename="rename"><span /></NameField>
  <TimeCard />
  <LoopCard v-if="session.cut?.loop" />
  <NoLoopCard v-else-if="session.cut" />
  <PlayingCard :part="part" />
  <FeelCard />
  <MovedByCard part-only />
  <TreatmentsCard :part="part" />
  <ChannelCard :part="part" folded />
  <SongCard />
  <ByHandCard />
</template>
