<script setup lang="ts">
/** Timing and accents of another loop, laid over this part; and this part's own, lifted out for others. */
import { computed, onMounted, useTemplateRef } from 'vue';
import type { ShelfItem } from '#core/api/shelf.ts';
import { grooveOfLoop } from '#core/patterns/groove.ts';
import { setGroove } from '#core/project/commands/parts.ts';
import { partValues } from '#core/queries/values.ts';
import { feelStepTicks } from '#core/strips/feel-step.ts';
import type { Groove } from '#core/document/schema.ts';
import { library } from '../../audio/services.ts';
import { useGrooves } from '../../stores/pattern/grooves.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NameField from '../fields/NameField.vue';
import ParamField from '../fields/ParamField.vue';

const project = useProject();
const session = useSession();
const grooves = useGrooves();
const notices = useNotices();
const part = computed(() => session.part!);
const nameField = useTemplateRef('nameField');

onMounted(() => void grooves.refresh());

function put(label: string, groove: Groove | null): void {
  project.run(label, setGroove, { partId: part.value.id, groove });
}

/** Under the name that it has on the shelf now. */
const grooveOf = ({ name, facts }: ShelfItem<'groove'>): Groove => ({ ...facts.groove, name });

function choose(id: string): void {
  if (id === '') put('no groove', null);
  const chosen = grooves.list.find((one) => one.id === id);
  if (chosen) put(`groove ${chosen.name}`, grooveOf(chosen));
}

/** The groove in use, also when it is not on the shelf any more. */
const chosenId = computed(() => {
  const { groove } = part.value;
  if (!groove) return '';
  return grooves.list.find((one) => JSON.stringify(grooveOf(one)) === JSON.stringify(groove))?.id ?? 'own';
});

const choices = computed(() => [
  { value: '', words: 'its own' },
  ...(chosenId.value === 'own' ? [{ value: 'own', words: part.value.groove!.name }] : []),
  ...grooves.list.map(({ id, name }) => ({ value: id, words: name })),
]);

async function lift(name: string): Promise<void> {
  const { sourceId, loop } = session.cut!;
  const peaks = library.peaks.get(sourceId);
  if (!loop) {
    notices.info('This sound is no loop: it has no groove to lift.');
    return;
  }
  if (!peaks) {
    notices.info('This sound is still being loaded: lift its groove in a moment.');
    return;
  }
  const { sampleRate } = project.document!.sources[sourceId]!;
  const stepTicks = feelStepTicks(partValues(session.part!).feelStep);
  const groove = grooveOfLoop(session.placed, loop, peaks, sampleRate, name, stepTicks);
  if (await grooves.keep(groove)) notices.info(`The groove “${name}” is on the shelf: lay it over any part.`);
}

function remove(): void {
  const groove = grooves.list.find((one) => one.id === chosenId.value);
  if (groove) void grooves.remove(groove);
}
</script>

<template>
  <ChoiceField
    label="groove"
    hint="Timing and accents of another loop, laid over this part"
    test-id="groove"
    :model-value="chosenId"
    :choices="choices"
    @put="choose"
  />
  <ParamField
    v-if="part.groove"
    :owners="[{ kind: 'part', id: part.id }]"
    param="groovePercent"
    test-id="groove-strength"
  />
  <div class="buttons">
    <NameField ref="nameField" :name="part.name" what="groove" always @rename="lift"
      ><v-btn
        data-tip="Lifts timing and accents out of this loop and keeps them on the shelf"
        @click="nameField?.edit()"
        >lift its groove</v-btn
      ></NameField
    >
    <v-btn
      v-if="chosenId !== '' && chosenId !== 'own'"
      data-tip="Takes the groove off the shelf; parts that use it keep it"
      @click="remove()"
      >off the shelf</v-btn
    >
  </div>
</template>
