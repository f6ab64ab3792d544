<script setup lang="ts">
/** Play, stop, loop, tempo, click, undo, and how loud it is: under every place. */
import { computed, defineAsyncComponent, ref } from 'vue';
import { setValue, type Owner, type Value } from '#core/project/commands/values.ts';
import { sectionAt } from '#core/order/layout.ts';
import { songValues } from '#core/queries/values.ts';
import { countedBeatTicks, formatBarsBeats } from '#core/units/time.ts';
import { usePictures } from '../../canvas/pictures.ts';
import { engine } from '../../audio/services.ts';
import { shortcuts } from '../../input/shortcuts.ts';
import { useActions } from '../../stores/frame/actions.ts';
import { useDialogs } from '../../stores/frame/dialogs.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { useTapping } from '../../stores/sound/tapping.ts';
import { useTransport } from '../../stores/sound/transport.ts';
import { themeName } from '../../theme/theme.ts';
import { ICONS } from '../../theme/icons.ts';
import { offerProjectActions } from '../../input/project-actions.ts';
import MetreField from '../fields/MetreField.vue';
import ParamField from '../fields/ParamField.vue';
import IconButton from '../shared/IconButton.vue';
import LevelMeter from './LevelMeter.vue';
import RecordControls from './RecordControls.vue';

// Fetched when it is opened.
const ClockCard = defineAsyncComponent(() => import('../controllers/ClockCard.vue'));

const project = useProject();
const transport = useTransport();
const tapping = useTapping();
const dialogs = useDialogs();
const actions = useActions();
const session = useSession();
const owners: Owner[] = [{ kind: 'song' }];
const song = computed(() => songValues(project.document!));
const position = ref<HTMLElement | null>(null);

offerProjectActions();

/** The position moves outside Vue: it changes with every frame of the screen. */
usePictures(() => {
  if (!project.document || !position.value) return;
  const text = placeWords(engine.positionTicksNow());
  if (position.value.textContent !== text) position.value.textContent = text;
});

function placeWords(ticks: number): string {
  // Before the first bar line it is counted in: -4, -3, -2, -1.
  if (ticks < 0) return `−${Math.ceil(-ticks / countedBeatTicks(song.value.beatsPerBar))}`;
  const section = transport.followsOrder ? sectionAt(transport.layout!, ticks) : undefined;
  if (!section) return formatBarsBeats(ticks, song.value.beatsPerBar);
  return formatBarsBeats(ticks - section.startTicks, section.beatsPerBar, section.barsBefore);
}

function put(label: string, param: string, to: Value): void {
  project.run(label, setValue, { owners, param, change: { to } });
}
</script>

<template>
  <footer class="transport" aria-label="Transport">
    <v-btn
      class="play"
      :icon="transport.playing ? ICONS.stop : ICONS.play"
      :aria-pressed="transport.playing"
      :aria-label="transport.playing ? 'Stop' : 'Play'"
      data-tip="Play or stop"
      :data-key="shortcuts.play"
      data-testid="play"
      @click="transport.toggle()"
    />
    <RecordControls v-if="session.part" />
    <IconButton
      icon="round"
      class="round"
      words="loop"
      hint="Go round and round, or end after this round"
      :pressed="transport.looping"
      @click="transport.setLooping(!transport.looping)"
    />
    <IconButton
      v-if="transport.hasOrder"
      icon="order"
      words="play the running order"
      hint="Play goes along the running order, or round the patterns that are chosen"
      :pressed="transport.followsOrder"
      @click="transport.followOrder(!transport.followsOrder)"
    />
    <div ref="position" class="position mono" data-testid="position" data-tip="Bar, beat and ticks (960 a quarter)">
      1.1.000
    </div>
    <div class="field">
      <span class="quiet">tempo</span>
      <ParamField :owners="owners" param="tempoBpm" :show-label="false" test-id="tempo" />
    </div>
    <v-btn
      class="tap"
      data-tip="Tap the tempo"
      :data-key="shortcuts.tap"
      @click="(event: MouseEvent) => tapping.tap(event.timeStamp)"
      >tap</v-btn
    >
    <div class="field narrow wide">
      <span class="quiet">metre</span>
      <MetreField :model-value="song.beatsPerBar" :show-label="false" @put="put('metre', 'beatsPerBar', $event)" />
    </div>
    <div class="click">
      <IconButton
        icon="click"
        words="click"
        hint="The click, on or off"
        action="click"
        :pressed="song.clickOn"
        @click="put('click', 'clickOn', !song.clickOn)"
      />
      <v-menu :close-on-content-click="false" location="top">
        <template #activator="{ props: menu }">
          <IconButton
            v-bind="menu"
            icon="down"
            words="The click’s settings, and the clock of other gear"
            variant="text"
            class="opener"
          />
        </template>
        <v-card class="click-menu" data-testid="click-menu">
          <ParamField :owners="owners" param="countInBars" test-id="count-in" />
          <ParamField :owners="owners" param="clickSound" test-id="click-sound" />
          <ParamField :owners="owners" param="clickGainDb" />
          <v-divider role="presentation" />
          <ClockCard />
        </v-card>
      </v-menu>
    </div>
    <div class="steps">
      <IconButton
        icon="undo"
        :words="project.undoLabel ? `Undo: ${project.undoLabel}` : 'Nothing to undo'"
        action="undo"
        :disabled="!project.undoLabel"
        data-testid="undo"
        @click="project.undo()"
      />
      <IconButton
        icon="redo"
        :words="project.redoLabel ? `Redo: ${project.redoLabel}` : 'Nothing to redo'"
        action="redo"
        :disabled="!project.redoLabel"
        data-testid="redo"
        @click="project.redo()"
      />
      <div class="what" aria-hidden="true">
        <span class="quiet">undo</span><span class="one-line">{{ project.undoLabel ?? 'nothing yet' }}</span>
      </div>
    </div>
    <v-btn
      v-if="session.part"
      class="keep"
      :prepend-icon="ICONS.keep"
      aria-label="keep what I just played"
      data-tip="What was played on the keys of this part becomes a pattern; nothing needs to be armed before"
      :data-key="shortcuts['keep-played']"
      @click="actions.run('keep-played')"
      ><span class="keep-words">keep what<br />I just played</span></v-btn
    >
    <LevelMeter class="meter" :sides="2" label="Level of the mix" :read="() => engine.status.peaks" />
    <IconButton
      class="theme"
      :icon="themeName === 'dark' ? 'day' : 'night'"
      :words="themeName === 'dark' ? 'day' : 'night'"
      hint="Paper by day, dark by night"
      action="night"
      @click="actions.run('night')"
    />
    <IconButton icon="search" words="Find a command" action="search" class="search" @click="dialogs.searching = true" />
    <IconButton icon="help" words="All shortcuts" action="help" @click="dialogs.helping = true" />
  </footer>
</template>

<style scoped>
.transport {
  --field-quiet: var(--foot-quiet);
  --meter-ground: var(--foot-rule);
  --over: #f08a72;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 0 16px;
  background: var(--foot);
  color: var(--foot-ink);
  min-width: 0;
}
.transport .quiet {
  color: var(--foot-quiet);
  font-size: 13px;
}
.transport :deep(.v-btn) {
  color: var(--foot-ink);
  border-color: var(--foot-rule);
  flex: none;
}
.transport :deep(.v-btn[aria-pressed='true']) {
  background: var(--foot-ink);
  border-color: var(--foot-ink);
  color: var(--foot);
}
.transport :deep(.v-field) {
  background: transparent;
  color: var(--foot-ink);
}
.transport :deep(.v-field .v-field__outline) {
  color: var(--foot-rule);
}
.transport :deep(.v-text-field__suffix) {
  color: var(--foot-quiet);
}
.transport :deep(.v-btn.play) {
  width: 54px;
  height: 42px;
  background: var(--signal);
  border-color: var(--signal);
  color: #fff;
}
.play :deep(.v-icon) {
  font-size: 26px;
  width: 26px;
  height: 26px;
}
.round.v-btn--icon.v-btn--density-default {
  width: 38px;
  height: 42px;
}
.position {
  font-size: 25px;
  width: 126px;
  flex: none;
}
.field {
  display: grid;
  width: 104px;
  flex: none;
}
.field.narrow {
  width: 76px;
}
.click {
  display: flex;
  flex: none;
}
.opener.v-btn--icon.v-btn--density-default {
  width: 20px;
}
.click-menu {
  padding: 12px;
  display: grid;
  gap: 8px;
  width: 356px;
}
.steps {
  display: flex;
  align-items: center;
  gap: 4px;
  flex: 1;
  min-width: 0;
}
.what {
  display: grid;
  min-width: 0;
  max-width: 170px;
  font-size: 13px;
  margin-left: 6px;
  line-height: 1.3;
}
.keep.v-btn.v-btn--density-default {
  height: 42px;
  padding: 0 8px;
}
.keep-words {
  font-weight: 400;
  line-height: 1.2;
  text-align: left;
}
.meter {
  width: 130px;
  flex: none;
}
/* What is least needed goes first: what the next undo is called, metre, room between, the meter's length, then search. */
@media (max-width: 1160px) {
  .transport {
    gap: 8px;
    padding: 0 10px;
  }
  .what,
  .keep-words {
    display: none;
  }
  .steps {
    min-width: fit-content;
  }
  .meter {
    width: 110px;
  }
}
@media (max-width: 990px) {
  .field.wide {
    display: none;
  }
}
@media (max-width: 910px) {
  .transport {
    gap: 4px;
    padding: 0 6px;
    overflow-x: auto;
  }
  .position {
    font-size: 20px;
    width: 100px;
  }
  .meter {
    width: 90px;
  }
}
@media (max-width: 859px) {
  .transport {
    height: 58px;
  }
  .meter {
    width: 72px;
  }
}
@media (max-width: 800px) {
  .search {
    display: none;
  }
}
@media (max-width: 760px) {
  .meter,
  .theme {
    display: none;
  }
}
</style>
