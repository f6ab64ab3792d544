<script setup lang="ts">
/** The patterns of the part: one click puts another one on, when the song has it so while it runs; drag one to its place. */
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue';
import { choosePattern, movePattern, renamePattern } from '#core/project/commands/patterns.ts';
import { isHome } from '#core/document/home-id.ts';
import { songValues } from '#core/queries/values.ts';
import { PATTERN_MARKS } from '../../canvas/palette.ts';
import { useRecording } from '../../stores/sound/recording.ts';
import { placeWords, useSwitching } from '../../stores/keys/switching.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import NameField from '../fields/NameField.vue';
import { usePatternNames } from './use-pattern-names.ts';
import { useReorder } from '../shared/use-reorder.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const switching = useSwitching();
const recording = useRecording();
const recordedWords = computed(() => `${recording.count} ${recording.count === 1 ? 'strip' : 'strips'}`);
const nameField = useTemplateRef('nameField');
const box = useTemplateRef<HTMLElement>('box');
const renamingId = ref<string | null>(null);

const patterns = usePatternNames();
const when = computed(
  () =>
    ({ now: 'at once', beat: 'next beat', bar: 'next bar', round: 'at its end' })[
      songValues(project.document!).changesAt
    ],
);
/** Keys that put a pattern on, by the pattern. */
const keysOf = computed(() => {
  const keys = new Map<string, string>();
  for (const { patternId, ...place } of session.part?.switches ?? []) {
    if (patternId !== null) keys.set(patternId, [keys.get(patternId), placeWords(place)].filter(Boolean).join(' '));
  }
  return keys;
});
const held = computed(() => switching.held.get(session.part?.id ?? ''));
const waiting = computed(() => transport.waitingPatterns[session.part!.id] ?? null);
const renamingName = computed(() => patterns.value.find(({ id }) => id === renamingId.value)?.name ?? '');

/** By a hand alone: the tabs themselves choose another one when one goes, as with an undo. */
function choose(patternId: string): void {
  if (patternId === session.patternId) return;
  project.run('change pattern', choosePattern, { partId: session.part!.id, patternId });
}

async function startRename(id: string): Promise<void> {
  if (isHome(id)) return;
  renamingId.value = id;
  await nextTick();
  void nameField.value?.edit();
}

function rename(name: string): void {
  if (renamingId.value) project.run('rename pattern', renamePattern, { patternId: renamingId.value, name });
}

const list = ref<HTMLElement | null>(null);
onMounted(() => (list.value = box.value?.querySelector<HTMLElement>('.v-slide-group__content') ?? null));
useReorder(list, {
  fixed: '.home',
  onMoved: (from, to) =>
    project.run('move pattern', movePattern, { patternId: patterns.value[from]!.id, by: to - from }),
});
</script>

<template>
  <div ref="box" class="patterns">
    <NameField ref="nameField" :name="renamingName" what="pattern" class="renaming" @rename="rename"
      ><span
    /></NameField>
    <v-tabs class="tabs" aria-label="Patterns" show-arrows :model-value="session.patternId">
      <v-tab
        v-for="pattern in patterns"
        :key="pattern.id"
        :value="pattern.id"
        :class="{ waiting: pattern.id === waiting, home: isHome(pattern.id), held: pattern.id === held }"
        :data-tip="
          isHome(pattern.id)
            ? 'The loop in its own order; it stays as it is: changing it makes a copy'
            : `${pattern.name}: click puts it on, double-click renames it, dragging moves it`
        "
        @click="choose(pattern.id)"
        @dblclick="startRename(pattern.id)"
        @keydown.f2.stop.prevent="startRename(pattern.id)"
      >
        <span
          v-if="pattern.colour !== undefined"
          class="mark"
          :style="{ background: PATTERN_MARKS[pattern.colour] }"
        /><span class="one-line name">{{ pattern.name }}</span
        ><span v-if="keysOf.has(pattern.id)" class="mono quiet key">{{ keysOf.get(pattern.id) }}</span
        ><span v-if="pattern.id === waiting"> · {{ when }}</span>
      </v-tab>
    </v-tabs>
    <span v-if="held === ''" class="state small" data-testid="resting">rests</span>
    <span v-if="recording.isOn" class="state small" data-testid="recording"
      ><span class="what">recording: </span>{{ recordedWords }}</span
    >
  </div>
</template>

<style scoped>
.patterns {
  display: flex;
  min-width: 0;
}
.tabs {
  min-width: 0;
  flex: 1;
}
.renaming {
  max-width: 170px;
}
.name {
  max-width: 150px;
}
.waiting {
  text-decoration: underline dashed;
}
.held {
  outline: 2px dotted var(--sea);
  outline-offset: -2px;
}
.mark {
  width: 9px;
  height: 9px;
  border-radius: 50%;
  margin-right: 6px;
  flex: none;
}
.key {
  margin-left: 6px;
}
.state {
  align-self: center;
  color: var(--signal);
  white-space: nowrap;
  padding: 0 8px;
}
@media (max-width: 1100px) {
  .what {
    display: none;
  }
}
</style>
