<script setup lang="ts">
/** Other sounds under the hits of a part, or in their place, each under one blend. */
import { computed, ref } from 'vue';
import { useDoubles } from '../../stores/sound/doubles.ts';
import { ICONS } from '../../theme/icons.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import ParamField from '../fields/ParamField.vue';
import DoubleRow from './DoubleRow.vue';

const doubles = useDoubles();
const isOpen = ref(false);
const wantedHits = ref<string | null>(null);
const wantedSound = ref<string | null>(null);
const hits = computed(
  () => doubles.groups.find(({ value }) => value === wantedHits.value) ?? doubles.groups[0] ?? null,
);
const sounds = computed(() => (hits.value ? doubles.soundsUnder(hits.value) : []));
const sound = computed(
  () => (sounds.value.find(({ value }) => value === wantedSound.value) ?? sounds.value[0])?.value ?? null,
);

function add(): void {
  if (hits.value && sound.value) void doubles.add(hits.value, sound.value);
  isOpen.value = false;
}
</script>

<template>
  <section class="doubles" aria-labelledby="doubles-title">
    <header>
      <h2 id="doubles-title" class="heading">
        Doubles <span class="quiet small">another sound under hits, or in their place</span>
      </h2>
      <v-menu v-model="isOpen" :close-on-content-click="false" @update:model-value="$event && doubles.lookAtShelf()">
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" :prepend-icon="ICONS.add">a double</v-btn>
        </template>
        <v-sheet class="new">
          <ChoiceField
            v-if="hits"
            label="under"
            :model-value="hits.value"
            :choices="doubles.groups"
            @put="wantedHits = $event"
          />
          <p v-else class="quiet small">Choose the hits first, in Sounds below or on the bench.</p>
          <ChoiceField label="sound" :model-value="sound" :choices="sounds" @put="wantedSound = $event" />
          <v-btn :disabled="!hits || !sound" @click="add">lay it under</v-btn>
        </v-sheet>
      </v-menu>
    </header>
    <DoubleRow v-for="double in doubles.doubles" :key="double.id" :double="double" />
    <div v-if="doubles.doubles.length > 0 && doubles.others.length > 0" class="others">
      <span class="quiet small">everything else</span>
      <ParamField :owners="doubles.others" param="gainDb" />
      <ParamField :owners="doubles.others" param="tuneCents" />
    </div>
  </section>
</template>

<style scoped>
.doubles {
  display: grid;
  gap: 6px;
  flex: none;
}
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
}
.heading {
  font-size: 15px;
  font-weight: 660;
}
.new {
  display: grid;
  gap: 8px;
  width: 300px;
  padding: 12px;
}
.new :deep(.choice) {
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr);
  align-items: center;
  gap: 6px;
}
.others {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.others :deep(.number) {
  display: grid;
  grid-template-columns: auto 92px;
  align-items: center;
  gap: 6px;
}
</style>
