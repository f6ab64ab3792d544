<script setup lang="ts">
/** How a cut keeps the song's tempo, each way as a little picture of what it does. */
import { computed } from 'vue';
import { FOLLOWS, type Follow } from '#core/params/choices.ts';
import { setValue, type Owner } from '#core/project/commands/values.ts';
import { cutValues } from '#core/queries/values.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const project = useProject();
const session = useSession();
const value = computed(() => cutValues(session.cut!).follow);
const PICTURES: Record<Follow, { hint: string; short: string }> = {
  slices: { short: 'slices', hint: 'Every slice starts on its own moment of the song; it sounds as it is' },
  stretch: { short: 'stretching', hint: 'The sound is made longer or shorter; its pitch stays' },
  speed: { short: 'speed', hint: 'It plays faster or slower, and its pitch goes along' },
  none: { short: 'its own tempo', hint: 'It plays as it is, whatever the song does' },
};
const owners = computed<Owner[]>(() => [{ kind: 'cut', id: session.cut!.id }]);

function choose(to: Follow | undefined): void {
  if (to && to !== value.value)
    project.run('follows', setValue, { owners: owners.value, param: 'follow', change: { to } });
}
</script>

<template>
  <v-btn-toggle
    class="ways"
    role="group"
    aria-label="follows"
    data-testid="follow"
    :model-value="value"
    @update:model-value="choose"
  >
    <v-btn
      v-for="{ value: way, words } in FOLLOWS"
      :key="way"
      class="way"
      :class="way"
      :value="way"
      :aria-label="words"
      :data-tip="PICTURES[way].hint"
    >
      <svg v-if="way !== 'none'" viewBox="0 0 60 26" aria-hidden="true">
        <template v-if="way === 'slices'">
          <rect v-for="x in [8, 20, 32, 44]" :key="x" :x="x" y="2" width="9" height="6" />
          <path d="M12 8L7 18M24 8L23 18M36 8L38 18M48 8L53 18" />
          <rect v-for="x in [2, 18, 34, 49]" :key="x" :x="x" y="19" width="9" height="6" />
        </template>
        <template v-else-if="way === 'stretch'">
          <rect x="16" y="2" width="28" height="6" />
          <path d="M16 8L4 18M44 8L56 18" />
          <rect x="4" y="19" width="52" height="6" />
        </template>
        <template v-else>
          <path d="M12 6q3-8 6 0t6 0t6 0t6 0t6 0t6 0" />
          <path d="M2 20q5-10 10 0t10 0t10 0t10 0t10 0" />
        </template>
      </svg>
      <span>{{ PICTURES[way].short }}</span>
    </v-btn>
  </v-btn-toggle>
</template>

<style scoped>
.ways.v-btn-toggle.v-btn-group {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 4px;
  height: auto;
}
.ways > .way.v-btn {
  height: 54px;
  padding: 2px;
}
.ways > .way.none.v-btn {
  grid-column: 1 / -1;
  height: var(--control);
  min-height: var(--control);
}
.way :deep(.v-btn__content) {
  display: grid;
  justify-items: center;
  gap: 2px;
  font-size: 13px;
}
svg {
  width: 56px;
  height: 24px;
}
rect {
  fill: currentcolor;
  opacity: 0.75;
}
path {
  fill: none;
  stroke: currentcolor;
  stroke-width: 1.4;
}
</style>
