<script setup lang="ts">
/** Timing and accents of another loop, laid over this part; and this part's own, lifted out for others. */
import { computed, onMounted, ref } from 'vue';
import { grooveOfLoop } from '#core/patterns/groove.ts';
import { setGroove } from '#core/project/commands/parts.ts';
import type { Groove } from '#core/project/schema.ts';
import { library } from '../../audio/services.ts';
import { useGrooves } from '../../stores/grooves.ts';
import { useNotices } from '../../stores/notices.ts';
import { useProject } from '../../stores/project.ts';
import { useSession } from '../../stores/session.ts';
import ParamField from '../fields/ParamField.vue';

const project = useProject();
const session = useSession();
const grooves = useGrooves();
const notices = useNotices();
const part = computed(() => session.part!);
const naming = ref<string | null>(null);

onMounted(() => void grooves.refresh());

function put(label: string, groove: Groove | null): void {
  project.run(label, setGroove, { partId: part.value.id, groove });
}

function choose(event: Event): void {
  const { value } = event.target as HTMLSelectElement;
  if (value === '') put('no groove', null);
  const chosen = grooves.list.find((one) => one.id === value);
  if (chosen) put(`groove ${chosen.groove.name}`, chosen.groove);
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
  <ParamField
    v-if="part.groove"
    :owners="[{ kind: 'part', id: part.id }]"
    param="groovePercent"
    test-id="groove-strength"
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
