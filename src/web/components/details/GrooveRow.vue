<script setup lang="ts">
/** Timing and accents of another loop, laid over this part; and this part's own, lifted out for others. */
import { computed, onMounted, ref } from 'vue';
import { grooveOfLoop } from '#core/patterns/groove.ts';
import { setPart, type PartSettings } from '#core/project/commands/parts.ts';
import { library } from '../../audio/services.ts';
import { useGrooves } from '../../stores/grooves.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import DocumentField from '../fields/DocumentField.vue';

const project = useProject();
const session = useSession();
const grooves = useGrooves();
const notices = useNotices();
const part = computed(() => session.part!);
const naming = ref<string | null>(null);

onMounted(() => void grooves.refresh());

function put(label: string, settings: PartSettings): void {
  project.run(label, setPart, { partId: part.value.id, settings });
}

function choose(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  if (value === '') put('no groove', { groove: null });
  const chosen = grooves.list.find((one) => one.id === value);
  if (chosen) put(`groove ${chosen.groove.name}`, { groove: chosen.groove });
}

/** The groove in use, also when it is not on the shelf any more. */
const chosenId = computed(() => {
  const { groove } = part.value;
  if (!groove) return '';
  return grooves.list.find((one) => JSON.stringify(one.groove) === JSON.stringify(groove))?.id ?? 'own';
});

async function lift(): Promise<void> {
  const name = naming.value?.trim() || part.value.name;
  naming.value = null;
  const { sourceId, loop } = part.value;
  const peaks = library.peaks.get(sourceId);
  if (!peaks) {
    notices.info('This sound is still being loaded: lift its groove in a moment.');
    return;
  }
  const groove = grooveOfLoop(session.placed, loop, peaks, project.document!.sources[sourceId]!.sampleRate, name);
  if (await grooves.keep(groove)) notices.info(`The groove “${name}” is on the shelf: lay it over any part.`);
}

function remove(): void {
  const groove = grooves.list.find((one) => one.id === chosenId.value);
  if (groove) void grooves.remove(groove);
}
</script>

<template>
  <div class="row">
    <span>groove</span>
    <select
      class="plain-select"
      aria-label="Groove"
      title="Timing and accents of another loop, laid over this part"
      data-testid="groove"
      :value="chosenId"
      @change="choose"
      @keydown.stop
    >
      <option value="">its own</option>
      <option v-if="chosenId === 'own'" value="own">{{ part.groove!.name }}</option>
      <option v-for="one in grooves.list" :key="one.id" :value="one.id">{{ one.groove.name }}</option>
    </select>
  </div>
  <DocumentField
    v-if="part.groove"
    label="of it"
    data-testid="groove-strength"
    hint="How far timing and accents go towards the groove's"
    :model-value="part.groovePercent"
    :min="0"
    :max="100"
    :step="5"
    :reset="100"
    unit="%"
    undo="strength of the groove"
    @put="put('strength of the groove', { groovePercent: $event })"
  />
  <div class="buttons">
    <template v-if="naming !== null">
      <input
        v-model="naming"
        class="plain-input"
        aria-label="Name of the groove"
        maxlength="200"
        @keydown.stop
        @keydown.enter="lift"
        @keydown.esc="naming = null"
      />
      <button class="push small" @click="lift">keep</button>
    </template>
    <button
      v-else
      class="push small"
      title="Lifts timing and accents out of this loop and keeps them on the shelf"
      @click="naming = part.name"
    >
      lift its groove
    </button>
    <button
      v-if="chosenId !== '' && chosenId !== 'own' && naming === null"
      class="push small"
      title="Takes the groove off the shelf; parts that use it keep it"
      @click="remove()"
    >
      off the shelf
    </button>
  </div>
</template>
