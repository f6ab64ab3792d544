<script setup lang="ts">
/** At the left of every place: the project with its parts, what is running, and the ways to the other places. */
import { computed, useTemplateRef } from 'vue';
import { useRoute } from 'vue-router';
import { movePart } from '#core/project/commands/parts.ts';
import { renameProject } from '#core/project/commands/song.ts';
import { PROJECT_PLACES } from '../../router.ts';
import { useActions } from '../../stores/frame/actions.ts';
import { NEW_PART, useSoundDrag } from '../../stores/keys/sound-drag.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import NameField from '../fields/NameField.vue';
import AddSound from '../parts/AddSound.vue';
import RailPart from '../parts/RailPart.vue';
import IconButton from '../shared/IconButton.vue';
import { useReorder } from '../shared/use-reorder.ts';
import { shortcuts, type ActionId } from '../../input/shortcuts.ts';
import WorkList from './WorkList.vue';

const project = useProject();
const session = useSession();
const soundDrag = useSoundDrag();
const dialogs = useDialogs();
const actions = useActions();
const route = useRoute();
const nameField = useTemplateRef('nameField');
const partList = useTemplateRef<HTMLElement>('partList');

const saveWords = computed(
  () =>
    ({
      saved: 'saved',
      saving: 'saving …',
      waiting: 'saving …',
      failed: 'not saved yet: trying again',
      refused: 'not saved: see the message',
      conflict: 'changed in another window',
    })[project.saveState],
);
const partOrder = computed(() => project.document?.partOrder ?? []);
const places = computed(() =>
  PROJECT_PLACES.map((place) => ({ ...place, to: `/${place.name}/${project.document!.id}` })),
);
const hasParts = computed(() => partOrder.value.length > 0);

function rename(name: string): void {
  project.run('rename project', renameProject, { name });
}

useReorder(partList, {
  handle: '.grip',
  onMoved: (from, to) => project.run('move part', movePart, { partId: partOrder.value[from]!, by: to - from }),
});
actions.offer({ versions: () => (dialogs.versions = hasParts.value) });
</script>

<template>
  <nav class="rail" aria-label="Parts and places">
    <RouterLink class="brand" to="/" data-tip="To the shelf">yappa</RouterLink>
    <template v-if="project.document">
      <div class="head">
        <p class="project-name" data-testid="project-name">
          <NameField ref="nameField" :name="project.document.name" what="project" @rename="rename" />
        </p>
        <v-menu>
          <template #activator="{ props: menu }">
            <IconButton v-bind="menu" icon="more" words="The project" variant="text" class="more" />
          </template>
          <v-list>
            <v-list-item title="Rename" @click="nameField?.edit()" />
            <v-list-item title="Versions" :disabled="!hasParts" @click="dialogs.versions = true" />
            <v-list-item title="Find a command" @click="dialogs.searching = true" />
          </v-list>
        </v-menu>
        <p class="quiet state" data-testid="save-state">{{ saveWords }}</p>
      </div>
      <div v-if="project.saveState === 'conflict'" class="conflict" role="alert">
        <p>This project was changed elsewhere. The version that you do not take stays among the versions.</p>
        <v-btn @click="project.keepMine()">go on with mine</v-btn>
        <v-btn @click="project.takeTheirs()">take the other</v-btn>
      </div>
      <div class="parts-head">
        <h2>Parts</h2>
        <AddSound is-icon />
      </div>
      <div class="middle">
        <ul ref="partList" class="parts">
          <RailPart v-for="id in partOrder" :key="id" :part="project.document.parts[id]!" />
        </ul>
        <AddSound v-if="route.name !== 'shelf'" />
        <span
          v-if="soundDrag.carried?.dropOnPart"
          class="new-part small"
          :class="{ under: soundDrag.overPartId === NEW_PART }"
          data-new-part
          >a new part</span
        >
      </div>
    </template>
    <p v-else class="quiet none">No project is open: choose one, or cut a sound.</p>
    <div class="below">
      <WorkList />
      <ul v-if="project.document" class="places" aria-label="Places of this project">
        <li v-for="place in places" :key="place.name">
          <v-btn
            :to="place.to"
            variant="text"
            block
            class="place"
            :class="{ here: route.name === place.name }"
            :data-tip="place.hint"
            :data-key="shortcuts[`go-${place.name}` as ActionId] || undefined"
          >
            <span class="dot" aria-hidden="true" />{{ place.words }}
            <span v-if="place.name === 'bench' && route.name === 'bench' && session.grownBand" class="what">{{
              session.grownBand
            }}</span>
          </v-btn>
        </li>
      </ul>
      <v-btn
        to="/"
        variant="text"
        block
        class="place shelf"
        :class="{ here: route.name === 'shelf' || route.name === 'capture' }"
        :prepend-icon="ICONS.shelf"
        data-tip="Projects, sounds and grooves"
        :data-key="shortcuts['go-shelf'] || undefined"
        >Shelf</v-btn
      >
    </div>
  </nav>
</template>

<style scoped>
.rail {
  display: flex;
  flex-direction: column;
  gap: 4px;
  padding: 12px 10px 10px;
  background: var(--sheet);
  border-right: 1px solid var(--rule);
  min-height: 0;
  overflow: hidden;
}
/* The places stay in sight, however many parts there are. */
.middle {
  flex: 1 1 auto;
  min-height: 0;
  overflow-y: auto;
  scrollbar-width: thin;
  display: grid;
  align-content: start;
  justify-items: stretch;
}
.brand {
  font-size: 26px;
  font-weight: 750;
  letter-spacing: -0.02em;
  color: var(--ink);
  text-decoration: none;
  line-height: 1.1;
  padding: 0 7px;
}
.head {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  padding-left: 7px;
}
.project-name {
  font-size: 14px;
  font-weight: 680;
  min-width: 0;
}
.more.v-btn--icon.v-btn--density-default {
  width: 22px;
}
.state {
  grid-column: 1 / -1;
  font-size: 13px;
}
.conflict {
  font-size: 13px;
  display: grid;
  gap: 4px;
  border-left: 4px solid var(--signal);
  padding-left: 8px;
  margin-left: 7px;
}
.parts-head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding-left: 7px;
}
.parts-head h2 {
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-quiet);
}
.parts {
  display: grid;
  gap: 4px;
}
.none {
  font-size: 13px;
  padding: 0 7px;
}
.below {
  margin-top: auto;
  padding-top: 8px;
  display: grid;
  gap: 6px;
}
.place {
  justify-content: flex-start;
  font-size: 14px;
  font-weight: 620;
  padding: 0 9px;
}
.place :deep(.v-btn__content) {
  flex: 1;
  justify-content: flex-start;
}
.place.here {
  background: var(--ink);
  color: var(--sheet);
}
.place.here :deep(.v-btn__overlay) {
  opacity: 0;
}
.dot {
  width: 10px;
  height: 10px;
  border-radius: 50%;
  border: 2px solid currentcolor;
  margin-right: 10px;
  position: relative;
  background: var(--sheet);
  z-index: 1;
}
.here .dot {
  background: var(--ink);
  box-shadow:
    inset 0 0 0 1.5px var(--ink),
    inset 0 0 0 6px var(--sheet);
}
.places {
  position: relative;
}
.places::before {
  content: '';
  position: absolute;
  left: 13px;
  top: 14px;
  bottom: 14px;
  border-left: 2px solid var(--ink);
}
.what {
  margin-left: auto;
  font-weight: 400;
  opacity: 0.75;
}
.shelf {
  border-top: 1px solid var(--rule);
  border-radius: 0 0 3px 3px;
}
/* Under a narrow window's upper edge the rail lies down: the places in sight, the parts in a line of their own. */
@media (max-width: 859px) {
  .rail {
    flex-flow: row wrap;
    align-items: center;
    gap: 4px 8px;
    padding: 6px 10px;
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
  .brand {
    font-size: 20px;
    padding: 0;
  }
  .head,
  .parts-head {
    padding: 0;
    flex: none;
  }
  .parts-head h2,
  .project-name {
    display: none;
  }
  .state {
    grid-column: auto;
    order: -1;
    white-space: nowrap;
  }
  .middle,
  .parts {
    display: flex;
    flex: none;
  }
  .middle {
    order: 1;
    flex: 0 0 100%;
    overflow: auto hidden;
  }
  .below {
    display: flex;
    align-items: center;
    /* Work that is under way takes what is left, and moves nothing. */
    flex: 1 1 480px;
    min-height: 38px;
    margin: 0;
    padding: 0;
    min-width: 0;
    overflow: auto hidden;
    scrollbar-width: none;
  }
  .none + .below {
    flex: none;
    margin-left: auto;
  }
  .places {
    display: flex;
    flex: none;
    margin-left: auto;
  }
  .places::before {
    display: none;
  }
  .place.place {
    min-width: 0;
    width: auto;
  }
  .shelf {
    border-top: 0;
    flex: none;
  }
}
.new-part {
  padding: 10px 7px;
  border: 1px dashed var(--rule);
  border-radius: 3px;
  color: var(--quiet);
  text-align: center;
}
.new-part.under {
  border-color: var(--signal);
  color: var(--ink);
}
</style>
