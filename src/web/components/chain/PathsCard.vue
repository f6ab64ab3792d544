<script setup lang="ts">
/** Paths side by side: each with its level and its effects, which are dragged from one to another and out again. */
import { computed } from 'vue';
import { MOST_PATHS } from '#core/params/effect-rows/paths.ts';
import { EFFECT_KINDS, EFFECT_ROWS, EFFECT_WORDS } from '#core/params/effects.ts';
import { fullValues } from '#core/params/row.ts';
import type { ChainItem } from '#core/document/chain-tree.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import type { Effect } from '#core/document/schema.ts';
import { useProject } from '../../stores/document/project.ts';
import { useChain } from '../../stores/sound/chain.ts';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import EffectHead from './EffectHead.vue';
import PathEffects from './PathEffects.vue';

const { item } = defineProps<{ item: ChainItem<Effect>; chosenId: string | null }>();
const emit = defineEmits<{ choose: [id: string] }>();
const project = useProject();
const chain = useChain();
const effect = computed(() => item.effect);
const owners = computed<Owner[]>(() => [{ kind: 'effect', id: effect.value.id }]);
const values = computed(() => fullValues(EFFECT_ROWS.paths, effect.value.values));
/** What stands in a path that was closed is still to be seen. */
const used = computed(() => item.paths.reduce((most, path, at) => (path.length > 0 ? at + 1 : most), 0));
const shown = computed(() => Math.max(values.value.count, used.value));
const inPaths = EFFECT_KINDS.filter((kind) => kind !== 'paths');

function addPath(): void {
  const to = values.value.count + 1;
  project.run('another path', setValue, { owners: owners.value, param: 'count', change: { to } });
}
</script>

<template>
  <article
    class="paths sheet"
    :class="{ on: effect.id === chosenId, off: effect.bypassed }"
    :aria-label="EFFECT_WORDS.paths"
    :data-id="effect.id"
    data-kind="paths"
    data-testid="effect-card"
  >
    <EffectHead :effect="effect" :chosen="effect.id === chosenId" @choose="emit('choose', effect.id)">
      <ParamField v-if="values.joins === 'turns'" :owners="owners" param="which" class="which" />
      <IconButton
        v-if="values.count < MOST_PATHS"
        icon="add"
        words="Another path"
        variant="text"
        class="small"
        @click="addPath()"
      />
    </EffectHead>
    <div
      v-for="path in shown"
      :key="path"
      class="path"
      :class="{ shut: path > values.count }"
      role="group"
      :aria-label="`path ${path}`"
    >
      <span class="mono">{{ path }}</span>
      <ParamField
        v-if="values.joins === 'together'"
        :owners="owners"
        :param="`level${path}`"
        :show-label="false"
        class="level"
      />
      <PathEffects
        :fork-id="effect.id"
        :path="path - 1"
        :effects="item.paths[path - 1]!"
        :chosen-id="chosenId"
        @choose="emit('choose', $event)"
      />
      <v-menu>
        <template #activator="{ props: menu }">
          <IconButton v-bind="menu" icon="add" :words="`Add an effect to path ${path}`" variant="text" class="small" />
        </template>
        <v-list :aria-label="`Effects for path ${path}`">
          <v-list-item
            v-for="kind in inPaths"
            :key="kind"
            :title="EFFECT_WORDS[kind]"
            @click="chain.add(kind, { forkId: effect.id, path: path - 1 })"
          />
        </v-list>
      </v-menu>
      <IconButton
        v-if="values.count > 2 && path <= values.count"
        icon="remove"
        :words="`Take path ${path} out`"
        variant="text"
        class="small"
        @click="chain.takePathOut(effect.id, path - 1)"
      />
    </div>
  </article>
</template>

<style scoped>
.paths {
  width: 372px;
  flex: none;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  align-content: start;
  gap: 2px;
  padding: 2px 7px 6px;
  border: 1px solid var(--rule);
  outline: 2px solid transparent;
  outline-offset: -2px;
}
.paths.on {
  outline-color: var(--sea);
}
.off .path {
  opacity: 0.45;
}
.path {
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 34px;
  border-top: 1px solid var(--rule);
}
.path.shut {
  opacity: 0.5;
}
.level {
  flex: none;
  width: 84px;
}
.which {
  display: grid;
  grid-template-columns: auto 72px;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
.small.small {
  width: 24px;
  min-width: 24px;
  background: none;
  color: var(--ink-quiet);
}
</style>
