<script setup lang="ts">
/** While the running order plays, what is chosen here is not what is heard: said with the way out. */
import { useTransport } from '../../stores/sound/transport.ts';
import BandLine from './BandLine.vue';

const transport = useTransport();
</script>

<template>
  <BandLine
    words="The running order plays: this pattern is heard where a section has it."
    tip="What is chosen on the bench is heard when rounds are played"
    data-testid="order-line"
  >
    <v-btn data-tip="From the start, what is chosen here" @click="transport.followOrder(false)"
      >play rounds instead</v-btn
    >
  </BandLine>
</template>
