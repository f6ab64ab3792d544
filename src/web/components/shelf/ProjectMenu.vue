<script setup lang="ts">
/** What can be done to a project on the shelf. */
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import type { ProjectSummary } from '../../api/client.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import IconButton from '../shared/IconButton.vue';
import NameDialog from '../shared/NameDialog.vue';

const { project } = defineProps<{ project: ProjectSummary }>();
const router = useRouter();
const shelf = useShelf();
const renaming = ref(false);
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <IconButton v-bind="menu" icon="more" :words="`More for ${project.name}`" variant="text" />
    </template>
    <v-list>
      <v-list-item title="Open" @click="router.push(`/bench/${project.id}`)" />
      <v-list-item title="Rename" @click="renaming = true" />
      <v-list-item title="Duplicate" @click="shelf.duplicateProject(project)" />
      <v-list-item title="Delete" @click="shelf.removeProject(project)" />
    </v-list>
  </v-menu>
  <NameDialog
    v-if="renaming"
    v-model="renaming"
    :name="project.name"
    what="project"
    @rename="shelf.renameProject(project, $event)"
  />
</template>
