<script setup lang="ts">
/** What a print of the chosen part is to be. */
import { computed } from 'vue';
import { patternName } from '#core/queries/patterns.ts';
import { useDialogs, type PrintOf } from '../../stores/frame/dialogs.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { usePhrases } from '../../stores/pattern/phrases.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { usePrinting } from '../../stores/sound/printing.ts';
import ChoiceField from '../fields/ChoiceField.vue';

const dialogs = useDialogs();
const project = useProject();
const printing = usePrinting();
const notices = useNotices();
const part = computed(() => project.document?.parts[dialogs.printPartId ?? ''] ?? null);
const isOpen = computed({
  get: () => part.value !== null,
  set: (open) => {
    if (!open) dialogs.printPartId = null;
  },
});
const pattern = computed(() => (part.value ? patternName(project.document!, part.value) : ''));
const session = useSession();
const phrases = usePhrases();
/** What the part is asked to play, and in which words. */
const chosenSounds = computed(() => (part.value?.id === session.part?.id ? session.selectedZones : []));
const bars = computed(() => (phrases.bars === 1 ? 'the last bar' : `the last ${phrases.bars} bars`));
const OF = computed(() => [
  { value: 'pattern' as const, words: `its pattern, ${pattern.value}` },
  { value: 'played' as const, words: 'what I just played' },
  ...(part.value?.helperOrder.length
    ? [{ value: 'helpers' as const, words: `what chord, runner and echoes played in ${bars.value}` }]
    : []),
  ...(chosenSounds.value.length > 0
    ? [
        {
          value: 'sounds' as const,
          words:
            chosenSounds.value.length === 1 ? 'the chosen sound' : `the ${chosenSounds.value.length} chosen sounds`,
        },
      ]
    : []),
  { value: 'mix' as const, words: 'the last minute of the mix' },
]);
const of = computed({
  get: () => OF.value.find(({ value }) => value === dialogs.printOf)?.value ?? 'pattern',
  set: (value) => (dialogs.printOf = value),
});
const EXPLAINED: Readonly<Record<PrintOf, string>> = {
  pattern: 'What its pattern sounds like becomes a sound of its own, cut where its strips begin.',
  played: 'What was just played on its keys becomes a sound of its own, cut where keys were pressed.',
  helpers: 'What they played becomes a sound of its own, cut at every hit.',
  sounds: 'The chosen sounds, one after another as they are set, become one sound, cut at each.',
  mix: 'What was heard in the last minute, whatever it was, becomes a part of its own, cut at its hits.',
};

/** Null: nothing was played. */
function phraseNow() {
  const document = project.document!;
  if (of.value === 'played') return phrases.byHands(document, part.value!);
  return of.value === 'helpers'
    ? phrases.byHelpers(document, part.value!)
    : phrases.ofSounds(document, chosenSounds.value);
}
const NAMES: Readonly<Record<PrintOf, string>> = {
  pattern: '',
  played: 'played',
  helpers: 'run',
  sounds: 'chosen sounds',
  mix: '',
};
const ROUNDS = [1, 2, 4, 8].map((value) => ({ value, words: `${value}` }));
const WAYS = [
  { value: 'with', words: 'with its chain' },
  { value: 'without', words: 'without it' },
] as const;
const PLACES = [
  { value: 'beside', words: 'beside it' },
  { value: 'instead', words: 'in its place' },
  { value: 'key', words: 'on a key of it' },
] as const;

function print(): void {
  const { value } = part;
  if (!value) return;
  if (of.value === 'pattern') void printing.print(value);
  else if (of.value === 'mix') void printing.printLast();
  else {
    const phrase = phraseNow();
    if (phrase && phrase.strips.length > 0) void printing.print(value, { ...phrase, name: NAMES[of.value] });
    else notices.info('Nothing was played lately that could be printed.');
  }
  isOpen.value = false;
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="520" aria-label="Print a part">
    <v-card v-if="part" class="print" data-testid="print">
      <v-card-title class="one-line">Print {{ part.name }}</v-card-title>
      <v-card-text>
        <p class="quiet">{{ EXPLAINED[of] }}</p>
        <ChoiceField class="row" label="of it" :model-value="of" :choices="OF" @put="of = $event" />
        <ChoiceField
          v-if="of === 'pattern'"
          class="row"
          label="rounds"
          hint="What chance makes of each, too"
          spread
          :model-value="printing.settings.rounds"
          :choices="ROUNDS"
          @put="printing.settings.rounds = $event"
        />
        <ChoiceField
          v-if="of !== 'mix'"
          class="row"
          label="sounds"
          hint="Without it, it comes as it goes into the chain, before its level and all that is behind"
          spread
          :model-value="printing.settings.withChain ? 'with' : 'without'"
          :choices="WAYS"
          @put="printing.settings.withChain = $event === 'with'"
        />
        <ChoiceField
          v-if="of !== 'mix'"
          class="row"
          label="comes"
          hint="On a key of it: in one piece, as one more of its sounds"
          spread
          :model-value="printing.settings.place"
          :choices="PLACES"
          @put="printing.settings.place = $event"
        />
        <v-checkbox
          v-if="of !== 'mix'"
          v-model="printing.settings.ringsOut"
          hide-details
          label="with its tail, behind the loop's end"
        />
      </v-card-text>
      <v-card-actions>
        <v-btn @click="isOpen = false">Leave it</v-btn>
        <v-btn class="strong" @click="print()">Print</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 64px minmax(0, 1fr);
  align-items: center;
}
.print :deep(.v-card-text) {
  display: grid;
  gap: 10px;
}
</style>
