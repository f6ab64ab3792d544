<script setup lang="ts">
/** A part in the rail: its name and picture, and when it is chosen its level, pan, mute and solo. */
import { computed, useTemplateRef } from 'vue';
import type { Owner } from '#core/project/commands/values.ts';
import type { Part } from '#core/document/schema.ts';
import { channelValues, cutValues } from '#core/queries/values.ts';
import { useSoundDrag } from '../../stores/keys/sound-drag.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';
import { ICONS } from '../../theme/icons.ts';
import NameField from '../fields/NameField.vue';
import ParamField from '../fields/ParamField.vue';
import SkylineMini from '../shared/SkylineMini.vue';
import { usePartPicture } from '../shared/use-part-picture.ts';
import { FOLLOW_WORDS } from './follow-words.ts';
import MuteSolo from './MuteSolo.vue';
import PartMenu from './PartMenu.vue';
import { usePartActions } from './use-part-actions.ts';

const { part } = defineProps<{ part: Part }>();
const project = useProject();
const session = useSession();
const soundDrag = useSoundDrag();
const nameField = useTemplateRef('nameField');
const STRETCHES = 48;

const isChosen = computed(() => part.id === session.partId);
const cut = computed(() => project.document!.cuts[part.cutOrder[0]!]!);
const picture = usePartPicture(() => part, STRETCHES);
const channel = computed(() => channelValues(project.document!.channels[part.channelId]!));
const channelOwner = computed<Owner[]>(() => [{ kind: 'channel', id: part.channelId }]);
const { rename } = usePartActions(() => part);
</script>

<template>
  <li
    class="part"
    :class="{ on: isChosen, silent: channel.muted, under: soundDrag.overPartId === part.id }"
    :data-part-id="part.id"
    data-testid="part"
  >
    <div class="top">
      <v-icon class="grip" :icon="ICONS.drag" size="16" aria-hidden="true" data-tip="Drag to move this part" />
      <v-btn
        variant="text"
        class="pick"
        :aria-pressed="isChosen"
        :aria-label="`Part ${part.name}`"
        @click="session.choosePart(part.id)"
        @keydown.f2.stop.prevent="nameField?.edit()"
      >
        <NameField ref="nameField" class="name" :name="part.name" what="part" @rename="rename" />
      </v-btn>
      <PartMenu v-if="isChosen" :part="part" @rename="nameField?.edit()" />
    </div>
    <div class="look" @click="session.choosePart(part.id)">
      <span class="quiet follows">{{ FOLLOW_WORDS[cutValues(cut).follow] }}</span>
      <span class="sky"><SkylineMini :levels="picture.levels" :colours="picture.colours" /></span>
    </div>
    <div v-if="isChosen" class="channel">
      <MuteSolo :part="part" />
      <ParamField :owners="channelOwner" param="gainDb" :show-label="false" class="level" />
    </div>
  </li>
</template>

<style scoped>
.part {
  border: 1px solid transparent;
  border-radius: 3px;
  padding: 3px 6px 5px;
  min-width: 0;
}
.part.under {
  border-color: var(--signal);
}
.part.on {
  border-color: var(--sea);
  background: var(--paper);
}
.part.silent:not(.on) {
  opacity: 0.6;
}
.top {
  display: flex;
  align-items: center;
  position: relative;
}
.top :deep(.v-btn--icon.v-btn--density-default) {
  width: 22px;
  height: var(--control-low);
}
.grip {
  position: absolute;
  left: -11px;
  cursor: grab;
  opacity: 0;
  flex: none;
}
.part:hover .grip {
  opacity: 0.55;
}
.pick.pick {
  flex: 1;
  min-width: 0;
  justify-content: flex-start;
  padding: 0 2px;
  height: var(--control-low);
  font-size: 14px;
  font-weight: 640;
  background: transparent;
  color: var(--ink);
}
.pick :deep(.v-btn__content) {
  min-width: 0;
  flex: 1;
  justify-content: flex-start;
}
.look {
  display: grid;
  font-size: 13px;
  cursor: pointer;
  line-height: 1.25;
}
.sky {
  height: 16px;
  margin-top: 2px;
  border-bottom: 1px solid var(--ink);
}
.channel {
  display: flex;
  gap: 3px;
  margin-top: 5px;
  align-items: center;
}
.level {
  flex: 1.5;
}
.channel :deep(.value) {
  min-width: 0;
}
.channel :deep(.v-field__input) {
  padding-inline: 4px 0;
}
.channel :deep(.v-text-field__suffix) {
  padding-inline: 0 3px;
}
@media (max-width: 859px) {
  .look,
  .channel,
  .grip {
    display: none;
  }
  .part {
    padding: 0 4px;
  }
  .pick.pick {
    max-width: 120px;
  }
}
</style>
