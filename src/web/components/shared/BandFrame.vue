<script setup lang="ts">
/** What the three bands have in common: a heading with facts and tools, a sheet, growing to the full height. */
import { computed } from 'vue';
import { tip, type ActionId } from '../../input/shortcuts.ts';
import { useSession, type Band } from '../../stores/session.ts';

const props = defineProps<{ band: Band; title: string }>();
const session = useSession();
const grown = computed(() => session.grownBand === props.band);
const action = computed(() => `grow-${props.band}` as ActionId);
</script>

<template>
  <section v-show="session.grownBand === null || grown" class="band" :class="[band, { grown }]" :aria-label="title">
    <header>
      <h2>{{ title }}</h2>
      <div class="about quiet"><slot name="facts" /></div>
      <div class="tools">
        <slot name="tools" />
        <button class="push small" :aria-pressed="grown" :title="tip(action)" @click="session.toggleBand(band)">
          {{ grown ? 'back' : 'grow' }}
        </button>
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
  min-height: 32px;
  padding: 3px 0;
}
.about {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  font-size: 13px;
}
.tools {
  display: flex;
  align-items: center;
  gap: 6px;
}
.body {
  flex: 1;
  min-height: 0;
  padding: 6px 8px;
  position: relative;
}
</style>
