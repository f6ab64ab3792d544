<script setup lang="ts">
/** The project as one page that plays, for someone who has nothing installed. */
import { useTakeAway } from '../../stores/away/take-away.ts';
import AwayRow from './AwayRow.vue';
import PartRibbons from './PartRibbons.vue';

const away = useTakeAway();
</script>

<template>
  <AwayRow
    v-model="away.settings.ticked.page"
    title="A page that plays"
    about="one file for any browser"
    :summary="away.rows.page"
    :share="away.shareOf('page')"
  >
    <template #picture><PartRibbons :most="3" /></template>
    <span class="quiet small"
      >Play, tempo, patterns, hands, dealing, mutes and keys, without any network; the same sound as here.</span
    >
  </AwayRow>
</template>
