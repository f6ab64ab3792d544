<script setup lang="ts">
/** Chooses one of the settings that may be moved, found by its name; grouped by whose they are. */
import { computed, ref } from 'vue';
import type { Movable } from '#core/queries/targets.ts';
import { ICONS } from '../../theme/icons.ts';

const {
  settings,
  words,
  hint = undefined,
} = defineProps<{ settings: readonly Movable[]; words: string; hint?: string }>();
const emit = defineEmits<{ pick: [setting: Movable] }>();
const isOpen = ref(false);
const wanted = ref('');

/** A menu of more would be long in coming, and nobody reads it. */
const MOST_SHOWN = 120;

const found = computed(() => {
  const sought = wanted.value.trim().toLowerCase();
  return settings.filter((one) => one.words.toLowerCase().includes(sought));
});
const groups = computed(() => {
  const byGroup = new Map<string, Movable[]>();
  for (const one of found.value.slice(0, MOST_SHOWN)) byGroup.set(one.group, [...(byGroup.get(one.group) ?? []), one]);
  return [...byGroup].map(([group, list]) => ({ group: group || 'its sounds', list }));
});

function pick(one: Movable): void {
  isOpen.value = false;
  wanted.value = '';
  emit('pick', one);
}
</script>

<template>
  <v-menu v-model="isOpen" :close-on-content-click="false">
    <template #activator="{ props: menu }">
      <slot name="activator" :menu="menu">
        <v-btn v-bind="menu" :prepend-icon="ICONS.add" :data-tip="hint">{{ words }}</v-btn>
      </slot>
    </template>
    <v-sheet class="picker">
      <v-text-field
        v-model="wanted"
        aria-label="Find a setting"
        placeholder="find a setting"
        autofocus
        @keydown.enter="groups[0]?.list[0] && pick(groups[0].list[0])"
        @keydown.esc="isOpen = false"
        @keydown.stop
      />
      <v-list class="found" :aria-label="words" max-height="340">
        <template v-for="{ group, list } in groups" :key="group">
          <v-list-subheader>{{ group }}</v-list-subheader>
          <v-list-item
            v-for="one in list"
            :key="`${one.target.kind} ${one.target.id} ${one.paramId}`"
            :title="one.row.label"
            :aria-label="one.words"
            @click="pick(one)"
          />
        </template>
        <v-list-item
          v-if="found.length > MOST_SHOWN"
          :title="`and ${found.length - MOST_SHOWN} more: type a part of the name`"
          disabled
        />
        <v-list-item v-if="groups.length === 0" title="nothing of that name can be moved" disabled />
      </v-list>
    </v-sheet>
  </v-menu>
</template>

<style scoped>
.picker {
  width: 280px;
  padding: 8px;
}
.found {
  overflow-y: auto;
  scrollbar-width: thin;
}
</style>
