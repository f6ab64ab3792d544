<script setup lang="ts">
/** Whether the next deal goes by rules, and by how many: they stand in the details. */
import { computed } from 'vue';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';

const session = useSession();
const count = computed(() => Object.keys(session.dealRules).length);
</script>

<template>
  <v-btn
    class="rules"
    :class="{ some: count > 0 }"
    :prepend-icon="ICONS.settings"
    data-tip="What stays, and what chance may colour, in the next deal"
    data-testid="deal-rules"
    @click="session.showDetailsOf('deal')"
    >{{ count === 0 ? 'plain' : `${count} ${count === 1 ? 'rule' : 'rules'}` }}</v-btn
  >
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
