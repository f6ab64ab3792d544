<script setup lang="ts">
/** The items of the menu that changes strips: fetched when it is opened first. */
import { computed } from 'vue';
import { TRANSFORM_IDS, TRANSFORMS, type TransformId } from '#core/patterns/transforms.ts';
import { isHome } from '#core/document/home-id.ts';
import { shortcuts, type ActionId } from '../../input/shortcuts.ts';
import { useSession } from '../../stores/document/session.ts';
import { useDealing } from '../../stores/pattern/dealing.ts';
import { useStripEdits } from '../../stores/pattern/strip-edits.ts';
import { ICONS } from '../../theme/icons.ts';

const session = useSession();
const strips = useStripEdits();
const dealing = useDealing();
const plainIds = TRANSFORM_IDS.filter((id) => !isAccent(id));
const accentIds = TRANSFORM_IDS.filter(isAccent);
const isNone = computed(() => session.events.length === 0);

function isAccent(id: TransformId): boolean {
  return 'kind' in TRANSFORMS[id];
}

interface Item {
  title: string;
  hint: string;
  action?: ActionId;
  disabled: boolean;
  run: () => void;
}
const groups = computed<Item[][]>(() => {
  const noneChosen = session.eventIds.length === 0;
  const noneCopied = strips.copied === null;
  return [
    [
      {
        title: 'swap two sounds everywhere',
        hint: 'Choose two strips, or two sounds on their keys: they change places in the whole pattern',
        disabled: strips.pair === null,
        run: () => strips.swap(),
      },
      {
        title: 'go home',
        hint: 'The beats of the chosen strips play what the loop itself plays there; held strips stay',
        action: 'go-home',
        disabled: isHome(session.patternId),
        run: () => strips.home(),
      },
      {
        title: 'deal these alone',
        hint: 'The chosen strips are dealt, all others stay',
        action: 'deal-chosen',
        disabled: noneChosen,
        run: () => dealing.chosenAgain(),
      },
    ],
    [
      {
        title: 'copy',
        hint: 'Copy the chosen strips',
        action: 'copy-strips',
        disabled: noneChosen,
        run: () => strips.copy(),
      },
      {
        title: 'take out',
        hint: 'Take the chosen strips out, to put them down elsewhere',
        action: 'cut-strips',
        disabled: noneChosen,
        run: () => strips.cut(),
      },
      {
        title: 'put down',
        hint: 'At the playhead, or after what was copied; in other patterns and parts, too',
        action: 'paste-strips',
        disabled: noneCopied,
        run: () => strips.paste(false),
      },
      {
        title: 'put down in place',
        hint: 'Where the strips were, in this pattern',
        action: 'paste-in-place',
        disabled: noneCopied,
        run: () => strips.paste(true),
      },
    ],
  ];
});
const what = computed(() => {
  const count = session.eventIds.length;
  return count === 0 ? 'all strips' : count === 1 ? 'the chosen strip' : `${count} strips`;
});
</script>

<template>
  <v-list density="compact">
    <v-list-subheader>{{ what }}</v-list-subheader>
    <v-list-item
      v-for="id in plainIds"
      :key="id"
      :title="TRANSFORMS[id].words"
      :data-tip="TRANSFORMS[id].hint"
      :disabled="isNone"
      @click="strips.transform(id)"
    />
    <v-list-item title="accents" :append-icon="ICONS.later" :disabled="isNone">
      <v-menu activator="parent" submenu>
        <v-list density="compact" aria-label="Accents">
          <v-list-item
            v-for="id in accentIds"
            :key="id"
            :title="TRANSFORMS[id].words"
            :data-tip="TRANSFORMS[id].hint"
            @click="strips.transform(id)"
          />
        </v-list>
      </v-menu>
    </v-list-item>
    <template v-for="(group, place) in groups" :key="place">
      <v-divider role="presentation" />
      <v-list-item
        v-for="{ title, hint, action, disabled, run } in group"
        :key="title"
        :title="title"
        :data-tip="hint"
        :data-key="action && shortcuts[action]"
        :disabled="disabled"
        @click="run"
      />
    </template>
  </v-list>
</template>
