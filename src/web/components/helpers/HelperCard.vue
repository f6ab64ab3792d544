<script setup lang="ts">
/** One of what stands on the way: its picture, what says most of it, whether it is on. */
import { computed } from 'vue';
import { HELPER_WORDS } from '#core/params/helpers.ts';
import type { Owner } from '#core/project/commands/values.ts';
import type { Helper } from '#core/document/schema.ts';
import { useHelpers } from '../../stores/keys/helpers.ts';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import { noteOf, ON_CARD } from './helper-words.ts';
import HelperPicture from './HelperPicture.vue';

const { helper } = defineProps<{ helper: Helper; chosen: boolean }>();
const helpers = useHelpers();
const words = computed(() => HELPER_WORDS[helper.kind]);
const owners = computed<Owner[]>(() => [{ kind: 'helper', id: helper.id }]);
</script>

<template>
  <article
    class="helper sheet"
    :class="{ on: chosen, off: helper.bypassed }"
    :aria-label="words"
    :data-id="helper.id"
    data-testid="helper-card"
  >
    <header class="head">
      <v-btn
        class="name"
        variant="text"
        :aria-current="chosen"
        :data-tip="`${words}: its settings; drag it to another place on the way`"
        @click="helpers.choose(helper.id)"
        ><span class="one-line">{{ words }}</span></v-btn
      >
      <span class="quiet one-line note">{{ noteOf(helper) }}</span>
      <IconButton
        icon="power"
        :words="`${words} on`"
        :pressed="!helper.bypassed"
        variant="text"
        class="power"
        @click="helpers.toggle(helper.id)"
      />
    </header>
    <div class="face" @click="helpers.choose(helper.id)"><HelperPicture :helper="helper" /></div>
    <div class="fields">
      <ParamField
        v-for="param in ON_CARD[helper.kind]"
        :key="param"
        :owners="owners"
        :param="param"
        :show-label="false"
      />
    </div>
  </article>
</template>

<style scoped>
.helper {
  flex: 1 1 210px;
  min-width: 200px;
  max-width: 300px;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  padding: 2px 7px 6px;
  border: 1px solid var(--rule);
  outline: 2px solid transparent;
  outline-offset: -2px;
}
.helper.on {
  outline-color: var(--sea);
}
.head {
  display: flex;
  align-items: center;
  gap: 6px;
  cursor: grab;
}
.name {
  flex: none;
  padding-inline: 0;
  font-size: 14px;
  font-weight: 640;
}
.on .name {
  color: var(--sea);
}
.note {
  flex: 1;
  font-size: 13px;
  text-align: right;
}
.power.power {
  width: 24px;
  min-width: 24px;
  background: none;
  color: var(--ink-quiet);
}
.power[aria-pressed='true'] {
  color: var(--sea);
}
.face {
  height: 52px;
  cursor: pointer;
}
.off .face,
.off .fields {
  opacity: 0.45;
}
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px;
}
</style>
