<script setup lang="ts">
/** The patterns of the part: one click puts another one on, at the next bar while the song runs; drag one to its place. */
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue';
import { choosePattern, movePattern, renamePattern } from '#core/project/commands/patterns.ts';
import { homeId, isHome } from '#core/project/schema.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';
import NameField from '../fields/NameField.vue';
import { useReorder } from '../shared/use-reorder.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const nameField = useTemplateRef('nameField');
const box = useTemplateRef<HTMLElement>('box');
const renamingId = ref<string | null>(null);

const patterns = computed(() => [
  ...session.part!.cutOrder.map((cutId, index) => ({
    id: homeId(cutId),
    name: index === 0 ? 'home' : `home ${index + 1}`,
  })),
  ...session.part!.patternOrder.map((id) => ({ id, name: project.document!.patterns[id]!.name })),
]);
const waiting = computed(() => transport.waitingPatterns[session.part!.id] ?? null);
const renamingName = computed(() => patterns.value.find(({ id }) => id === renamingId.value)?.name ?? '');

function choose(patternId: unknown): void {
  if (typeof patternId !== 'string' || patternId === session.patternId) return;
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
    <v-tabs
      class="tabs"
      aria-label="Patterns"
      show-arrows
      :model-value="session.patternId"
      @update:model-value="choose"
    >
      <v-tab
        v-for="pattern in patterns"
        :key="pattern.id"
        :value="pattern.id"
        :class="{ waiting: pattern.id === waiting, home: isHome(pattern.id) }"
        :data-tip="
          isHome(pattern.id)
            ? 'The loop in its own order; it stays as it is: changing it makes a copy'
            : `${pattern.name}: click puts it on at the next bar, double-click renames it, dragging moves it`
        "
        @dblclick="startRename(pattern.id)"
        @keydown.f2.stop.prevent="startRename(pattern.id)"
      >
        <span class="one-line name">{{ pattern.name }}</span><span v-if="pattern.id === waiting"> · next bar</span>
      </v-tab>
    </v-tabs>
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
</style>
