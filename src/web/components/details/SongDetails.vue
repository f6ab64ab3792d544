<script setup lang="ts">
/** What belongs to the whole song: its swing, its root, its click. */
import type { Owner } from '#core/project/commands/values.ts';
import DetailRows from '../fields/DetailRows.vue';
import ParamField from '../fields/ParamField.vue';

const song: Owner[] = [{ kind: 'song' }];
</script>

<template>
  <DetailRows title="Song">
    <ParamField :owners="song" param="swingPercent" test-id="song-swing" />
    <ParamField :owners="song" param="rootNote" test-id="song-root" />
    <ParamField :owners="song" param="countInBars" test-id="count-in" />
    <ParamField :owners="song" param="clickSound" test-id="click-sound" />
    <ParamField :owners="song" param="clickGainDb" />
  </DetailRows>
</template>
