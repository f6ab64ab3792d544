<script setup lang="ts">
/** What stays and what chance may colour when the pattern is dealt. */
import { computed, defineAsyncComponent } from 'vue';
import { useSession } from '../../stores/session.ts';
import { ICONS } from '../../theme/icons.ts';

const DealRulesCard = defineAsyncComponent(() => import('./DealRulesCard.vue'));
const session = useSession();
const count = computed(() => Object.keys(session.dealRules).length);
</script>

<template>
  <v-menu :close-on-content-click="false" location="top">
    <template #activator="{ props: menu }">
      <v-btn
        v-bind="menu"
        class="rules"
        :class="{ some: count > 0 }"
        :prepend-icon="ICONS.settings"
        data-tip="What stays, and what chance may colour, in the next deal"
        data-testid="deal-rules"
        >{{ count === 0 ? 'plain' : `${count} ${count === 1 ? 'rule' : 'rules'}` }}</v-btn
      >
    </template>
    <DealRulesCard />
  </v-menu>
</template>

<style scoped>
.rules.v-btn.v-btn--density-default {
  height: max(34px, var(--control));
  padding: 0 10px;
  flex: none;
}
.rules.some {
  border-color: var(--sea);
}
</style>
