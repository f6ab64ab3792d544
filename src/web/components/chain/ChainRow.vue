<script setup lang="ts">
/** The chain of effects of a part, a bus or the mix: put in, dragged into order, switched, compared with none, kept. */
import { onMounted, useTemplateRef } from 'vue';
import { EFFECT_KINDS, EFFECT_WORDS } from '#core/params/effects.ts';
import { useSession } from '../../stores/document/session.ts';
import { useChain } from '../../stores/sound/chain.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import { useReorder } from '../shared/use-reorder.ts';
import ChainMenu from './ChainMenu.vue';
import { DRAGGED_EFFECTS } from './effect-words.ts';
import EffectCard from './EffectCard.vue';
import PathsCard from './PathsCard.vue';

const chain = useChain();
const session = useSession();
const list = useTemplateRef<HTMLElement>('list');
useReorder(list, {
  handle: '.head',
  onMoved: (from, to) => chain.move(chain.items[from]!.effect.id, { place: to }),
  among: { name: DRAGGED_EFFECTS, takes: () => true, onTaken: (id, place) => chain.move(id, { place }) },
});
function choose(id: string): void {
  chain.chosenId = id === chain.chosenId ? null : id;
  // Its settings stand there.
  if (chain.chosenId && !session.detailsOpen) session.toggleDetails();
}

onMounted(() => void chain.shelf.refresh());
</script>

<template>
  <section class="chain" aria-labelledby="chain-title">
    <header class="bar">
      <h2 id="chain-title" class="heading">Chain</h2>
      <ChoiceField
        v-if="chain.channel"
        label="chain of"
        :show-label="false"
        class="whose"
        :model-value="chain.channel.id"
        :choices="chain.choices"
        @put="chain.show($event)"
      />
      <ChainMenu />
      <span class="gap" />
      <ParamField :owners="chain.owners" param="chainWet" class="whole" />
      <IconButton
        icon="compare"
        words="Compare with no chain"
        hint="With the chain and without it, both as loud"
        action="compare-chain"
        :pressed="chain.values?.chain === 'compared'"
        @click="chain.compare()"
      />
      <IconButton
        icon="power"
        words="Whole chain on"
        :pressed="chain.values?.chain === 'on'"
        @click="chain.toggleAll()"
      />
    </header>
    <div class="run" :class="{ off: chain.values?.chain !== 'on' }">
      <div ref="list" class="effects" role="group" aria-label="Effects">
        <template v-for="item in chain.items" :key="item.effect.id">
          <PathsCard
            v-if="item.effect.kind === 'paths'"
            :item="item"
            :chosen-id="chain.chosenId"
            @choose="choose($event)"
          />
          <EffectCard
            v-else
            :effect="item.effect"
            :chosen="item.effect.id === chain.chosenId"
            @choose="choose(item.effect.id)"
          />
        </template>
      </div>
      <v-menu>
        <template #activator="{ props: menu }">
          <v-btn
            v-bind="menu"
            class="more"
            variant="outlined"
            :prepend-icon="ICONS.add"
            :data-tip="chain.chosen ? 'Behind the chosen effect' : 'At the end of the chain'"
            >add an effect</v-btn
          >
        </template>
        <v-list aria-label="Effects">
          <v-list-item v-for="kind in EFFECT_KINDS" :key="kind" :title="EFFECT_WORDS[kind]" @click="chain.add(kind)" />
        </v-list>
      </v-menu>
    </div>
  </section>
</template>

<style scoped>
.chain {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  flex: none;
}
.bar {
  display: flex;
  align-items: center;
  gap: 8px;
  flex-wrap: wrap;
}
.heading {
  font-size: 15px;
  font-weight: 660;
}
.whose {
  width: 168px;
}
.gap {
  flex: 1;
}
.whole {
  display: grid;
  grid-template-columns: auto 76px;
  align-items: center;
  gap: 8px;
  font-size: 13px;
}
.run {
  display: flex;
  gap: 6px;
  overflow-x: auto;
  scrollbar-width: thin;
  padding-bottom: 2px;
}
.run.off {
  opacity: 0.6;
}
.effects {
  display: flex;
  gap: 6px;
}
.effects:empty {
  display: none;
}
.more {
  flex: none;
  align-self: stretch;
  height: auto;
  min-height: 40px;
  border-style: dashed;
}
</style>
