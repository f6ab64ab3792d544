<script setup lang="ts">
/** One double: under which hits, which sound, how much of it, and how that sounds. */
import { computed, useTemplateRef } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { Double } from '#core/document/schema.ts';
import { useSession } from '../../stores/document/session.ts';
import { useDoubles, WITH_PART } from '../../stores/sound/doubles.ts';
import ChoiceField from '../fields/ChoiceField.vue';
import NameField from '../fields/NameField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';

const { double } = defineProps<{ double: Double }>();
const session = useSession();
const doubles = useDoubles();
const name = useTemplateRef<InstanceType<typeof NameField>>('name');
const owners = computed<Owner[]>(() => [{ kind: 'double', id: double.id }]);
const sound = computed<Owner[]>(() => [{ kind: 'zone', id: double.soundId }]);
const chosenIds = computed(() => session.selectedZones.map(({ zone }) => zone.id));
</script>

<template>
  <section class="double" :aria-label="double.name">
    <div class="what">
      <NameField ref="name" class="name" :name="double.name" what="double" @rename="doubles.rename(double, $event)" />
      <v-btn data-tip="Choose its hits" @click="session.selectZones([...double.zoneIds])"
        >{{ double.zoneIds.length }} {{ double.zoneIds.length === 1 ? 'hit' : 'hits' }}</v-btn
      >
      <ChoiceField
        label="sound"
        class="sound"
        :model-value="double.soundId"
        :choices="doubles.sounds"
        @put="doubles.setSound(double, $event)"
      />
      <ChoiceField
        label="heard"
        class="way"
        :model-value="double.channelId ?? WITH_PART"
        :choices="doubles.ways"
        @put="doubles.lead(double, $event)"
      />
      <v-menu>
        <template #activator="{ props: menu }">
          <IconButton v-bind="menu" icon="more" :words="`More for ${double.name}`" variant="text" />
        </template>
        <v-list>
          <v-list-item title="Rename" @click="name?.edit()" />
          <v-list-item
            title="The chosen sounds are its hits"
            :disabled="chosenIds.length === 0"
            @click="doubles.setHits(double, chosenIds)"
          />
          <v-list-item title="Remove" @click="doubles.remove(double)" />
        </v-list>
      </v-menu>
    </div>
    <div class="much">
      <ParamField :owners="owners" param="blend" bar stacked />
      <ParamField :owners="owners" param="follow" stacked />
      <ParamField :owners="sound" param="gainDb" stacked />
      <ParamField :owners="sound" param="tuneCents" stacked />
      <ParamField :owners="sound" param="pan" stacked />
      <ParamField :owners="sound" param="startOffsetMs" stacked />
      <ParamField :owners="sound" param="endOffsetMs" stacked />
    </div>
  </section>
</template>

<style scoped>
.double {
  display: grid;
  gap: 4px;
  border-top: 1px solid var(--rule);
  padding-top: 6px;
}
.what {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.name {
  font-weight: 620;
  min-width: 90px;
}
.sound {
  display: grid;
  grid-template-columns: auto minmax(140px, 240px);
  justify-content: start;
  align-items: center;
  gap: 6px;
  flex: 1;
}
.way {
  display: grid;
  grid-template-columns: auto minmax(120px, 160px);
  align-items: center;
  gap: 6px;
}
.much {
  display: grid;
  grid-template-columns: minmax(130px, 2fr) repeat(6, minmax(72px, 1fr));
  gap: 6px 8px;
}
@media (max-width: 1000px) {
  .much {
    grid-template-columns: repeat(auto-fit, minmax(96px, 1fr));
  }
}
</style>
