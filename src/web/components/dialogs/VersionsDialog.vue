<script setup lang="ts">
/** Every state that a project was saved in, and versions that were not taken in a conflict: each can be looked at. */
import { ref, watch } from 'vue';
import { api, type Version } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';

const open = defineModel<boolean>({ required: true });
const project = useProject();
const notices = useNotices();
const versions = ref<Version[] | null>(null);
const openingId = ref<string | null>(null);

watch(
  open,
  async (isOpen) => {
    if (!isOpen || !project.document) return;
    versions.value = null;
    try {
      await project.flush();
      versions.value = await api.listVersions(project.document.id);
    } catch (error) {
      open.value = false;
      notices.error(describeFailure('The versions', error));
    }
  },
  { immediate: true },
);

async function look(version: Version): Promise<void> {
  const id = project.document!.id;
  openingId.value = version.id;
  try {
    const { document } = await api.loadVersion(id, version.id);
    if (project.document?.id !== id) return;
    project.view({ versionId: version.id, label: `${version.label}, ${when(version)}`, document });
    open.value = false;
  } catch (error) {
    notices.error(describeFailure('This version', error));
  } finally {
    openingId.value = null;
  }
}

function when({ createdAt }: Version): string {
  return new Date(createdAt).toLocaleString('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
  });
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" scrollable aria-label="Versions">
    <v-card class="versions">
      <v-card-title>Versions</v-card-title>
      <v-card-text>
        <p class="quiet says">Every save is kept. Look at one and hear it; nothing changes until you go back to it.</p>
        <v-progress-linear v-if="!versions" indeterminate color="primary" aria-label="Loading the versions" />
        <p v-else-if="versions.length === 0" class="quiet">There is none yet: the first edit makes one.</p>
        <v-list v-else density="compact" bg-color="transparent" class="list" data-testid="versions">
          <v-list-item
            v-for="version in versions"
            :key="version.id"
            :disabled="openingId !== null"
            @click="look(version)"
          >
            <v-list-item-title>{{ version.label || 'edit' }}</v-list-item-title>
            <template v-if="version.kind === 'kept'" #subtitle>not taken when two windows met</template>
            <template #append>
              <span class="mono when">{{ when(version) }}</span>
            </template>
          </v-list-item>
        </v-list>
      </v-card-text>
      <v-card-actions>
        <v-btn variant="outlined" @click="open = false">Close</v-btn>
      </v-card-actions>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.versions {
  color: var(--ink);
}
.when {
  font-size: 12px;
  color: var(--ink-quiet);
}
.says {
  font-size: 13px;
}
.list {
  margin-inline: -16px;
  max-height: 54vh;
  overflow-y: auto;
}
</style>
