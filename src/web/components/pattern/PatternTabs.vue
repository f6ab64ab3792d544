<script setup lang="ts">
/** The patterns of the part: one click puts another one on, at the next bar while the song runs. */
import { computed, nextTick, ref } from 'vue';
import { choosePattern, renamePattern } from '#core/project/commands/patterns.ts';
import { homeId, isHome } from '#core/project/schema.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import { useTransport } from '../../stores/transport.ts';

const project = useProject();
const session = useSession();
const transport = useTransport();
const renaming = ref<string | null>(null);
const draft = ref('');
const input = ref<HTMLInputElement[]>([]);

const patterns = computed(() => [
  ...session.part!.cutOrder.map((cutId, index) => ({
    id: homeId(cutId),
    name: index === 0 ? 'home' : `home ${index + 1}`,
  })),
  ...session.part!.patternOrder.map((id) => ({ id, name: project.document!.patterns[id]!.name })),
]);
const waiting = computed(() => transport.waitingPatterns[session.part!.id] ?? null);

function choose(patternId: string): void {
  if (patternId !== session.patternId) {
    project.run('change pattern', choosePattern, { partId: session.part!.id, patternId });
  }
}

async function startRename(id: string, name: string): Promise<void> {
  if (isHome(id)) return;
  renaming.value = id;
  draft.value = name;
  await nextTick();
  input.value[0]?.select();
}

function finishRename(keep: boolean): void {
  const id = renaming.value;
  renaming.value = null;
  if (keep && id && draft.value.trim())
    project.run('rename pattern', renamePattern, { patternId: id, name: draft.value });
}
</script>

<template>
  <div class="tabs" role="tablist" aria-label="Patterns">
    <template v-for="pattern in patterns" :key="pattern.id">
      <input
        v-if="renaming === pattern.id"
        ref="input"
        v-model="draft"
        class="plain-input"
        aria-label="Name of the pattern"
        maxlength="200"
        @blur="finishRename(true)"
        @keydown.enter="finishRename(true)"
        @keydown.esc="finishRename(false)"
        @keydown.stop
      />
      <button
        v-else
        role="tab"
        class="tab"
        :class="{ on: pattern.id === session.patternId, waiting: pattern.id === waiting }"
        :aria-selected="pattern.id === session.patternId"
        :title="
          isHome(pattern.id)
            ? 'The loop in its own order; it stays as it is: changing it makes a copy'
            : `${pattern.name}: click puts it on at the next bar, double-click renames it`
        "
        @click="choose(pattern.id)"
        @dblclick="startRename(pattern.id, pattern.name)"
      >
        {{ pattern.name }}<span v-if="pattern.id === waiting"> · next bar</span>
      </button>
    </template>
  </div>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 2px;
  overflow-x: auto;
  scrollbar-width: thin;
}
.tab {
  font-size: 13px;
  padding: 1px 8px;
  border-bottom: 2px solid transparent;
  color: var(--ink-quiet);
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
  flex: none;
}
.tab.on {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--sea);
}
.tab.waiting {
  border-bottom-style: dashed;
}
</style>
