<script setup lang="ts">
/** Every command by its words: type a few letters, Enter does the first; what cannot be done here is not shown. */
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue';
import { ACTION_IDS, actionWords, shortcuts, type ActionId } from '../../input/shortcuts.ts';
import { useActions } from '../../stores/frame/actions.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useShelf } from '../../stores/shelf/shelf.ts';
import { router } from '../../router.ts';
import { ICONS } from '../../theme/icons.ts';
import { rankCommands, type FoundCommand } from './rank-commands.ts';

const open = defineModel<boolean>({ required: true });
const actions = useActions();
const project = useProject();
const session = useSession();
const shelf = useShelf();
const wanted = ref('');
const place = ref(0);
const field = useTemplateRef<{ $el: HTMLElement }>('field');
const list = useTemplateRef<{ $el: HTMLElement }>('list');

/** Commands, the parts of the project to choose, and the projects of the shelf to open. */
const all = computed<FoundCommand[]>(() => [
  ...ACTION_IDS.filter((id) => id !== 'search' && actions.isOffered(id)).map((id: ActionId) => ({
    words: actionWords(id),
    shortcut: shortcuts[id],
    run: () => void actions.run(id),
  })),
  ...(project.document?.partOrder ?? []).map((id) => ({
    words: `Part: ${project.document!.parts[id]!.name}`,
    shortcut: '',
    run: () => session.choosePart(id),
  })),
  ...shelf.projects.map(({ id, name }) => ({
    words: `Open: ${name}`,
    shortcut: '',
    run: () => void router.push(`/bench/${id}`),
  })),
]);
const found = computed(() => rankCommands(all.value, wanted.value));

watch(
  open,
  async (isOpen) => {
    if (!isOpen) return;
    wanted.value = '';
    place.value = 0;
    if (!shelf.loaded) void shelf.refresh();
    await nextTick();
    await nextTick();
    field.value?.$el.querySelector('input')?.focus();
  },
  { immediate: true },
);
watch(wanted, () => (place.value = 0));

function run(command: FoundCommand | undefined): void {
  if (!command) return;
  open.value = false;
  // The dialog goes first, so that what the command opens gets the focus.
  void nextTick(() => command.run());
}

async function onKey(event: KeyboardEvent): Promise<void> {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by !== undefined) {
    event.preventDefault();
    place.value = Math.max(0, Math.min(found.value.length - 1, place.value + by));
    await nextTick();
    list.value?.$el.querySelector('.v-list-item--active')?.scrollIntoView({ block: 'nearest' });
  } else if (event.key === 'Tab') {
    // There is nothing else in it to go to.
    event.preventDefault();
  } else if (event.key === 'Enter') {
    event.preventDefault();
    run(found.value[place.value]);
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" aria-label="Find a command">
    <v-card class="search">
      <v-text-field
        ref="field"
        v-model="wanted"
        :prepend-inner-icon="ICONS.search"
        placeholder="What do you want to do?"
        aria-label="Find a command"
        @keydown="onKey"
      />
      <v-list ref="list" class="list" aria-label="Commands" data-testid="commands">
        <v-list-item
          v-for="(command, index) in found"
          :key="command.words"
          :active="index === place"
          :title="command.words"
          @click="run(command)"
        >
          <template v-if="command.shortcut" #append
            ><kbd class="mono quiet">{{ command.shortcut }}</kbd></template
          >
        </v-list-item>
      </v-list>
      <p v-if="found.length === 0" class="quiet none">
        Nothing is called that. Every command stands on the sheet of shortcuts, too.
      </p>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.search {
  padding: 12px;
}
.list {
  max-height: 50vh;
  overflow-y: auto;
  margin-top: 8px;
}
kbd {
  font-size: 13px;
}
.none {
  padding: 8px 4px;
}
</style>
