<script setup lang="ts">
/** A part in the rail: its name and picture, and when it is chosen its level, pan, mute and solo. */
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { duplicatePart, movePart, removePart, renamePart } from '#core/project/commands/parts.ts';
import { setValue } from '#core/project/commands/values.ts';
import { slicesOfCut } from '#core/queries/slices.ts';
import { channelValues, cutValues } from '#core/queries/values.ts';
import { peakBetween } from '#core/dsp/peaks.ts';
import type { Part } from '#core/project/schema.ts';
import { library } from '../../audio/services.ts';
import { NIGHT_LIFT, sliceColours } from '../../canvas/palette.ts';
import { themeName } from '../../theme/theme.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { usePlanSender } from '../../stores/plan-sender.ts';
import { FOLLOW_WORDS } from './follow-words.ts';
import PartMix from '../fields/PartMix.vue';
import SkylineMini from '../shared/SkylineMini.vue';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const session = useSession();
const planSender = usePlanSender();
const nameField = useTemplateRef('nameField');

const STRETCHES = 28;

const cut = computed(() => project.document!.cuts[part.cutOrder[0]!]!);
const placed = computed(() => slicesOfCut(project.document!, cut.value.id));
const channel = computed(() => channelValues(project.document!.channels[part.channelId]!));
const colour = computed(() => {
  const colours = sliceColours(
    placed.value.map((at) => at.slice.brightnessHz),
    themeName.value === 'dark' ? NIGHT_LIFT : 0,
  );
  return colours[Math.floor(colours.length / 2)] ?? 'var(--sea)';
});
const levels = computed(() => {
  void planSender.loadedCount;
  const peaks = library.peaks.get(cut.value.sourceId);
  if (!peaks) return [];
  return Array.from({ length: STRETCHES }, (_, i) =>
    peakBetween(peaks, (peaks.frames * i) / STRETCHES, (peaks.frames * (i + 1)) / STRETCHES),
  );
});

function duplicate(): void {
  if (!project.run('copy a part', duplicatePart, { partId: part.id })) return;
  const order = project.document!.partOrder;
  session.choosePart(order[order.indexOf(part.id) + 1]!);
}

function toggle(label: string, param: 'muted' | 'soloed'): void {
  const owners = [{ kind: 'channel' as const, id: part.channelId }];
  project.run(label, setValue, { owners, param, change: { to: !channel.value[param] } });
}

const renaming = ref(false);
async function startRenaming(): Promise<void> {
  renaming.value = true;
  await nextTick();
  nameField.value?.select();
}
function finishRenaming(event: Event): void {
  if (!renaming.value) return;
  const name = (event.target as HTMLInputElement).value.trim();
  renaming.value = false;
  if (name) project.run('rename part', renamePart, { partId: part.id, name });
}
</script>

<template>
  <li class="part" :class="{ on: part.id === session.partId }">
    <input
      v-if="renaming"
      ref="nameField"
      class="plain-input part-name"
      aria-label="Name of the part"
      maxlength="200"
      :value="part.name"
      @blur="finishRenaming"
      @keydown.enter="finishRenaming"
      @keydown.esc="renaming = false"
      @keydown.stop
    />
    <button
      class="pick"
      :title="`${part.name}: ${placed.length} slices; double-click renames it`"
      @click="session.choosePart(part.id)"
      @dblclick="startRenaming"
    >
      <span v-if="!renaming" class="name">{{ part.name }}</span>
      <span class="quiet">{{ FOLLOW_WORDS[cutValues(cut).follow] }}</span>
      <span class="sky"><SkylineMini :levels="levels" :colour="colour" /></span>
    </button>
    <div v-if="part.id === session.partId" class="channel">
      <PartMix :part="part" narrow />
      <button class="push small" :aria-pressed="channel.muted" title="Mute this part" @click="toggle('mute', 'muted')">
        mute
      </button>
      <button
        class="push small"
        :aria-pressed="channel.soloed"
        title="Hear only soloed parts"
        @click="toggle('solo', 'soloed')"
      >
        solo
      </button>
      <button
        class="remove quiet"
        title="Move this part up"
        aria-label="Move this part up"
        @click="project.run('move part', movePart, { partId: part.id, by: -1 })"
      >
        ↑
      </button>
      <button
        class="remove quiet"
        title="Move this part down"
        aria-label="Move this part down"
        @click="project.run('move part', movePart, { partId: part.id, by: 1 })"
      >
        ↓
      </button>
      <button class="remove quiet" title="This part once more, with its cut and patterns" @click="duplicate">
        copy
      </button>
      <button
        class="remove quiet"
        title="Remove this part"
        @click="project.run(`remove ${part.name}`, removePart, { partId: part.id })"
      >
        remove
      </button>
    </div>
  </li>
</template>

<style scoped>
.part {
  border: 1px solid transparent;
  border-radius: 3px;
  margin: 0 -6px;
  padding: 4px 6px;
}
.part.on {
  border-color: var(--sea);
  background: var(--paper);
}
.pick {
  display: grid;
  width: 100%;
  text-align: left;
  font-size: 13px;
}
.name {
  font-weight: 620;
  font-size: 14px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sky {
  height: 16px;
  margin-top: 3px;
}
.channel {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  margin-top: 6px;
  align-items: center;
}
.part-name {
  width: 100%;
  font-weight: 600;
}
.remove {
  font-size: 13px;
  text-align: left;
  text-decoration: underline;
}
</style>
