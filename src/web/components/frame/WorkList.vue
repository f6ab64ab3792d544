<script setup lang="ts">
/** What is running, in one line with its progress; one click shows each, and what failed stands there until it is read. */
import { computed, ref } from 'vue';
import { usePlanSender } from '../../stores/sound/plan-sender.ts';
import { useWork, WORK_WORDS } from '../../stores/frame/work.ts';
import { ICONS } from '../../theme/icons.ts';
import IconButton from '../shared/IconButton.vue';
import SkylineMini from '../shared/SkylineMini.vue';

const work = useWork();
const planSender = usePlanSender();
const open = ref(false);
const failedWords = computed(() =>
  work.failures.length === 1 ? '1 thing failed' : `${work.failures.length} things failed`,
);

function onToggle(isOpen: boolean): void {
  // What was shown has been read.
  if (!isOpen) work.forgetFailures();
}
</script>

<template>
  <span v-if="planSender.rendering > 0" class="unseen" data-testid="rendering">
    {{ planSender.rendering }} slices are being stretched
  </span>
  <div v-if="work.summary || work.failures.length > 0" class="work" role="status" data-testid="work">
    <v-menu v-model="open" location="right bottom" :close-on-content-click="false" @update:model-value="onToggle">
      <template #activator="{ props: menu }">
        <div class="line">
          <v-btn v-bind="menu" variant="text" class="summary" data-tip="What is running, and what failed">
            <span class="one-line">{{ work.summary?.words ?? failedWords }}</span>
          </v-btn>
          <IconButton
            v-if="work.summary?.canCancel"
            icon="close"
            variant="text"
            :words="work.list.length === 1 ? `Cancel ${work.summary.first.name}` : 'Cancel all'"
            @click="work.cancelAll()"
          />
        </div>
      </template>
      <v-card class="list" min-width="320" max-width="460">
        <v-list aria-label="Running work">
          <v-list-item v-for="one in work.list" :key="one.id">
            <v-list-item-title>{{ WORK_WORDS[one.kind].toLowerCase() }} {{ one.name }}</v-list-item-title>
            <v-progress-linear
              v-if="one.share !== null"
              :model-value="one.share * 100"
              :aria-label="`${WORK_WORDS[one.kind]} ${one.name}`"
            />
            <span v-else class="quiet small">waits for its turn</span>
            <template v-if="one.cancel" #append>
              <IconButton icon="close" variant="text" :words="`Cancel ${one.name}`" @click="one.cancel()" />
            </template>
          </v-list-item>
        </v-list>
        <template v-if="work.failures.length > 0">
          <v-divider v-if="work.list.length > 0" role="presentation" />
          <p class="heading">{{ failedWords }}</p>
          <v-list class="failed" aria-label="What failed" data-testid="failures">
            <v-list-item v-for="one in work.failures" :key="one.id" :prepend-icon="ICONS.alert">
              <span class="words">{{ one.words }}</span>
            </v-list-item>
          </v-list>
        </template>
      </v-card>
    </v-menu>
    <p v-if="work.summary?.first.words" class="quiet small words">{{ work.summary.first.words }}</p>
    <SkylineMini v-if="work.summary?.first.skyline" class="early" :levels="work.summary.first.skyline" />
    <v-progress-linear
      v-if="work.summary"
      :model-value="work.summary.share * 100"
      :indeterminate="work.summary.first.share === null"
      :aria-label="work.summary.words"
    />
  </div>
</template>

<style scoped>
.work {
  display: grid;
  gap: 2px;
  font-size: 13px;
  min-width: 0;
}
.line {
  min-width: 0;
  display: flex;
  align-items: center;
}
.summary {
  flex: 1;
  min-width: 0;
  justify-content: flex-start;
  padding: 0 2px;
}
.summary :deep(.v-btn__content) {
  min-width: 0;
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.early {
  height: 24px;
}
.list {
  max-height: 60vh;
  overflow-y: auto;
}
.heading {
  padding: 8px 16px 0;
  font-weight: 650;
}
.words {
  overflow-wrap: anywhere;
}
</style>
