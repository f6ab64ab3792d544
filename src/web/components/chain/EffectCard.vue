<script setup lang="ts">
/** An effect of the chain: what it is, what it does, the one number that says most, how much of it is wet. */
import { computed } from 'vue';
import { EFFECT_WORDS } from '#core/params/effects.ts';
import type { Owner } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import ParamField from '../fields/ParamField.vue';
import EffectHead from './EffectHead.vue';
import EffectPicture from './EffectPicture.vue';
import { firstWords } from './effect-words.ts';

const { effect } = defineProps<{ effect: Effect; chosen: boolean }>();
const emit = defineEmits<{ choose: [] }>();
const words = computed(() => EFFECT_WORDS[effect.kind]);
const owners = computed<Owner[]>(() => [{ kind: 'effect', id: effect.id }]);
</script>

<template>
  <article
    class="effect sheet"
    :class="{ on: chosen, off: effect.bypassed }"
    :aria-label="words"
    :data-id="effect.id"
    data-testid="effect-card"
  >
    <EffectHead :effect="effect" :chosen="chosen" @choose="emit('choose')" />
    <EffectPicture class="face" :effect="effect" @click="emit('choose')" />
    <div class="first mono one-line">{{ firstWords(effect.kind, effect.values) }}</div>
    <ParamField :owners="owners" param="wet" class="wet" />
  </article>
</template>

<style scoped>
.effect {
  width: 138px;
  flex: none;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  gap: 3px;
  padding: 2px 7px 6px;
  border: 1px solid var(--rule);
  outline: 2px solid transparent;
  outline-offset: -2px;
}
.effect.on {
  outline-color: var(--sea);
}
.face {
  cursor: pointer;
}
.off .face,
.off .first,
.off .wet {
  opacity: 0.45;
}
.first {
  font-size: 13px;
}
.wet {
  display: flex;
  justify-content: space-between;
  align-items: center;
  font-size: 13px;
}
</style>
