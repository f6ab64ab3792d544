<script setup lang="ts">
/** Says that an earlier version is on the bench, and offers the ways on from it. */
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { api } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';

const project = useProject();
const notices = useNotices();
const router = useRouter();
const copying = ref(false);

async function copy(): Promise<void> {
  const { document, versionId } = project.viewing!;
  copying.value = true;
  try {
    const { id, name } = await api.copyVersion(document.id, versionId);
    await router.push(`/bench/${id}`);
    notices.info(`"${name}" is a project of its own; the one it comes from is as it was.`);
  } catch (error) {
    notices.error(describeFailure('The copy', error));
  } finally {
    copying.value = false;
  }
}
</script>

<template>
  <v-alert density="compact" variant="tonal" color="primary" class="viewing" role="status" data-testid="viewing">
    <div class="line">
      <span class="label">
        An earlier version: <strong>{{ project.viewing!.label }}</strong>. Play it; nothing can be changed here.
      </span>
      <v-btn size="small" color="primary" variant="flat" @click="project.goBack()">Go back to it</v-btn>
      <v-btn size="small" variant="outlined" :loading="copying" @click="copy">Copy into a new project</v-btn>
      <v-btn size="small" variant="text" @click="project.view(null)">Close</v-btn>
    </div>
  </v-alert>
</template>

<style scoped>
.viewing {
  flex: none;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.label {
  flex: 1 1 220px;
  min-width: 0;
  overflow-wrap: anywhere;
  color: var(--ink);
  font-size: 13px;
}
</style>
