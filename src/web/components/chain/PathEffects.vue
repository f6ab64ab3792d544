<script setup lang="ts">
/** The effects of one path, small: put in order by dragging, also from path to path. */
import { useTemplateRef } from 'vue';
import type { Effect } from '#core/document/schema.ts';
import { useChain } from '../../stores/sound/chain.ts';
import { useReorder } from '../shared/use-reorder.ts';
import EffectHead from './EffectHead.vue';
import { DRAGGED_EFFECTS } from './effect-words.ts';

const { forkId, path, effects } = defineProps<{
  forkId: string;
  path: number;
  effects: readonly Effect[];
  chosenId: string | null;
}>();
const emit = defineEmits<{ choose: [id: string] }>();
const chain = useChain();
const list = useTemplateRef<HTMLElement>('list');
useReorder(list, {
  onMoved: (from, to) => chain.move(effects[from]!.id, { forkId, path, place: to }),
  among: {
    name: DRAGGED_EFFECTS,
    takes: ({ dataset }) => dataset.kind !== 'paths',
    onTaken: (id, place) => chain.move(id, { forkId, path, place }),
  },
});
</script>

<template>
  <div ref="list" class="effects" data-inner-list>
    <div
      v-for="effect in effects"
      :key="effect.id"
      class="chip"
      :class="{ on: effect.id === chosenId, off: effect.bypassed }"
      :data-id="effect.id"
      data-testid="path-effect"
    >
      <EffectHead :effect="effect" :chosen="effect.id === chosenId" @choose="emit('choose', effect.id)" />
    </div>
  </div>
</template>

<style scoped>
.effects {
  flex: 1;
  min-width: 0;
  min-height: 30px;
  display: flex;
  gap: 4px;
  overflow-x: auto;
  scrollbar-width: none;
}
.effects:empty::before {
  content: 'as it comes in';
  align-self: center;
  color: var(--ink-quiet);
  font-size: 13px;
}
.chip {
  flex: none;
  padding: 0 2px 0 7px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
}
.chip.on {
  border-color: var(--sea);
}
.chip.off {
  opacity: 0.55;
}
</style>
