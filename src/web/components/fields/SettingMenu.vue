<script setup lang="ts">
/** What may be made of a setting: a lane over what its part plays, or a dial. Opened by a right press on its field. */
import { computed } from 'vue';
import { useDials } from '../../stores/sound/dials.ts';
import { useLanes } from '../../stores/sound/lanes.ts';
import { useLearning } from '../../stores/keys/learning.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useSettingMenu } from '../../stores/frame/setting-menu.ts';

const menu = useSettingMenu();
const lanes = useLanes();
const dials = useDials();
const notices = useNotices();
const learning = useLearning();
const asked = computed(() => menu.asked!);
const target = computed((): [number, number] => [asked.value.x, asked.value.y]);

function close(): void {
  menu.asked = null;
}

function layLane(): void {
  const { lane, paramId, words } = asked.value;
  if (lane && lanes.addFor({ target: lane, paramId }, words)) {
    notices.info(`A lane for ${words} lies over the pattern: draw it in Shape.`);
  }
  close();
}

function learnIt(): void {
  const { owners, paramId, words } = asked.value;
  const target = learning.targetOf(owners, paramId);
  if (target) {
    learning.learn(target, words);
    notices.info(`Now move a dial, press a key or a pad: it moves ${words} from then on.`);
  }
  close();
}

function putOn(place: number, name: string): void {
  const { dial, paramId, words } = asked.value;
  if (dial && dials.putOn(place, { target: dial, paramId }, words)) notices.info(`${name} moves ${words} now.`);
  close();
}
</script>

<template>
  <v-menu
    :model-value="true"
    :target="target"
    :close-on-content-click="false"
    max-height="420"
    @update:model-value="close"
  >
    <v-list :aria-label="`For ${asked.words}`">
      <v-list-item v-if="asked.lane" title="a lane over the pattern" @click="layLane" />
      <v-list-item title="by a controller" @click="learnIt" />
      <v-list-subheader v-if="asked.dial">on a dial</v-list-subheader>
      <v-list-item
        v-for="{ place, dial } in asked.dial ? dials.places : []"
        :key="place"
        :title="dial?.name ?? `dial ${place + 1}`"
        :class="{ quiet: !dial }"
        @click="putOn(place, dial?.name ?? `dial ${place + 1}`)"
      />
    </v-list>
  </v-menu>
</template>
