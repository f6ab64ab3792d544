<script setup lang="ts">
/** What the three bands have in common: a heading with facts and tools, a sheet, growing to the full height. */
import { computed } from 'vue';
import type { ActionId } from '../../input/shortcuts.ts';
import { useSession, type Band } from '../../stores/document/session.ts';
import IconButton from './IconButton.vue';

const props = defineProps<{ band: Band; title: string }>();
const session = useSession();
const grown = computed(() => session.grownBand === props.band);
const action = computed(() => `grow-${props.band}` as ActionId);
</script>

<template>
  <section v-show="session.grownBand === null || grown" class="band" :class="[band, { grown }]" :aria-label="title">
    <header>
      <h2>{{ title }}</h2>
      <div class="about quiet one-line"><slot name="facts" /></div>
      <div class="tools">
        <slot name="tools" />
        <IconButton
          :icon="grown ? 'shrink' : 'grow'"
          :words="grown ? `${title} back among the bands` : `${title} over the full height`"
          :action="action"
          :pressed="grown"
          @click="session.toggleBand(band)"
        />
      </div>
    </header>
    <div class="sheet body"><slot /></div>
  </section>
</template>

<style scoped>
.band {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 34px;
  padding: 3px 0;
  min-width: 0;
}
.about {
  flex: 1;
  font-size: 13px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 4px;
  flex: none;
}
.body {
  flex: 1;
  min-height: 0;
  padding: 6px 8px;
  position: relative;
}
</style>
