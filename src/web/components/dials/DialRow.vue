<script setup lang="ts">
/** The dials of the project: one hand moves several things at once. */
import { useDials } from '../../stores/sound/dials.ts';
import SettingPicker from '../fields/SettingPicker.vue';
import DialCard from './DialCard.vue';

const dials = useDials();
</script>

<template>
  <section class="dials" aria-labelledby="dials-title">
    <h2 id="dials-title" class="heading">
      Dials <span class="quiet small">one hand moves several things at once, in all the project</span>
    </h2>
    <div v-if="dials.dials.length > 0" class="row">
      <DialCard v-for="dial in dials.dials" :key="dial.id" :dial="dial" />
    </div>
    <div class="free">
      <SettingPicker
        v-for="place in dials.freePlaces"
        :key="place"
        :settings="dials.movable"
        :words="`dial ${place + 1}`"
        hint="Puts a setting of this part, of a bus or of the mix on it; any other by the right button on that setting"
        @pick="dials.putOn(place, $event, $event.words)"
      />
    </div>
  </section>
</template>

<style scoped>
.dials {
  flex: none;
}
.heading {
  font-size: 15px;
  font-weight: 660;
  padding-bottom: 6px;
}
.free {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.row + .free {
  padding-top: 8px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(236px, 1fr));
  gap: 8px;
}
</style>
