<script setup lang="ts">
/** What notes pass on their way to the keys, from left to right; what it plays is written down or printed from here. */
import { useTemplateRef } from 'vue';
import { HELPER_KINDS, HELPER_WORDS } from '#core/params/helpers.ts';
import { usePhrases, WRITTEN_BARS } from '../../stores/pattern/phrases.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useHelpers } from '../../stores/keys/helpers.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import IconButton from '../shared/IconButton.vue';
import { useReorder } from '../shared/use-reorder.ts';
import HelperCard from './HelperCard.vue';

const helpers = useHelpers();
const phrases = usePhrases();
const session = useSession();
const dialogs = useDialogs();
const list = useTemplateRef<HTMLElement>('list');
useReorder(list, { handle: '.head', onMoved: (from, to) => helpers.move(helpers.list[from]!.id, to) });

const WHAT: Record<string, string> = {
  chord: 'One key plays several',
  runner: 'Held keys play by themselves, step after step',
  echoes: 'Each note comes again, weaker and weaker',
};
const bars = WRITTEN_BARS.map((value) => ({ value, words: value === 1 ? 'last bar' : `last ${value} bars` }));

function print(): void {
  dialogs.printOf = 'helpers';
  dialogs.printPartId = session.part?.id ?? null;
}
</script>

<template>
  <section class="way" aria-labelledby="way-title" data-testid="helpers">
    <header class="bar">
      <h3 id="way-title">On the way to the keys</h3>
      <span class="quiet about one-line">{{
        helpers.list.length > 0
          ? 'keys, patterns and MIDI pass from left to right'
          : 'nothing yet: notes reach their keys as they are'
      }}</span>
      <template v-if="helpers.list.length === 0">
        <v-btn
          v-for="kind in HELPER_KINDS"
          :key="kind"
          :prepend-icon="ICONS.add"
          :data-tip="WHAT[kind]"
          @click="helpers.add(kind)"
          >{{ HELPER_WORDS[kind] }}</v-btn
        >
      </template>
      <template v-else>
        <v-menu>
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" :prepend-icon="ICONS.add" :disabled="helpers.isFull" data-tip="One more on the way"
              >add</v-btn
            >
          </template>
          <v-list aria-label="One more on the way">
            <v-list-item
              v-for="kind in HELPER_KINDS"
              :key="kind"
              :title="HELPER_WORDS[kind]"
              :subtitle="WHAT[kind]"
              @click="helpers.add(kind)"
            />
          </v-list>
        </v-menu>
        <ChoiceField
          class="bars"
          label="How much is written down"
          :show-label="false"
          :model-value="phrases.bars"
          :choices="bars"
          @put="phrases.bars = $event"
        />
        <IconButton
          icon="print"
          words="Print what they played"
          hint="What they have played becomes a sound"
          @click="print"
        />
        <v-btn
          class="strong"
          :prepend-icon="ICONS.edit"
          data-tip="What they have played becomes a pattern of its own"
          data-action="write-down"
          @click="phrases.writeDown()"
          >write down</v-btn
        >
      </template>
    </header>
    <div v-if="helpers.list.length > 0" ref="list" class="cards" role="group" aria-label="On the way">
      <HelperCard
        v-for="helper in helpers.list"
        :key="helper.id"
        :helper="helper"
        :chosen="helper.id === helpers.chosenId && session.detailsOf === 'helper'"
      />
    </div>
  </section>
</template>

<style scoped>
.way {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
  padding-bottom: 8px;
}
.bar {
  display: flex;
  align-items: center;
  gap: 6px;
  flex-wrap: wrap;
}
h3 {
  color: var(--ink);
  font-size: 15px;
  font-weight: 660;
}
.about {
  flex: 1 1 120px;
  font-size: 13px;
}
.bars {
  width: 118px;
}
.cards {
  display: flex;
  gap: 8px;
  overflow-x: auto;
  scrollbar-width: thin;
}
</style>
