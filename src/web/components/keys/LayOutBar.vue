<script setup lang="ts">
/** The ways of laying sounds on keys, each with one press; they are for the chosen sounds, or for all. */
import { ICONS } from '../../theme/icons.ts';
import { useLaying } from '../../stores/keys/laying.ts';
import { useSession } from '../../stores/document/session.ts';
import IconButton from '../shared/IconButton.vue';

const laying = useLaying();
const session = useSession();

const ways = [
  {
    icon: 'keys',
    words: 'upwards',
    more: 'from a key',
    hint: 'One after another from the first key on',
    go: () => laying.upwards('all'),
  },
  {
    icon: 'whiteKeys',
    words: 'white',
    more: 'keys only',
    hint: 'One after another on white keys',
    go: () => laying.upwards('white'),
  },
  {
    icon: 'drum',
    words: 'by drum',
    more: 'agreed keys',
    hint: 'Bass drum on 36, snare on 38, closed hat on 42 and so on, as drum machines have them; what is no drum comes after',
    go: () => laying.byDrum(),
  },
  {
    icon: 'spread',
    words: 'spread',
    more: 'one over keys',
    hint: 'The chosen sound over the keyboard, in tune around its note',
    go: () => laying.spread(),
  },
  {
    icon: 'learn',
    words: 'learn',
    more: 'by pressing',
    hint: 'On the key that is pressed next, the others after it',
    go: () => laying.learn(),
  },
] as const;
</script>

<template>
  <div class="bar" data-testid="lay-out">
    <span class="quiet about one-line">lay out {{ laying.words }}</span>
    <v-btn
      v-for="way in ways"
      :key="way.words"
      class="way"
      :data-tip="way.hint"
      :aria-label="`${way.words}: ${way.hint}`"
      @click="way.go"
    >
      <v-icon :icon="ICONS[way.icon]" size="20" />
      <span class="words"
        ><b>{{ way.words }}</b> <span class="quiet more">{{ way.more }}</span></span
      >
    </v-btn>
    <IconButton
      icon="notes"
      words="by note"
      hint="Each on the key of the note that was heard in it"
      @click="laying.byNote()"
    />
    <IconButton
      icon="copy"
      words="a further key"
      hint="The chosen sound on the key that is pressed next too, with settings of its own"
      :disabled="session.selectedZones.length !== 1"
      @click="laying.onKeyOfItsOwn()"
    />
    <IconButton
      icon="layers"
      words="layers"
      hint="The chosen sounds on one key: the first for soft presses, the last for hard ones"
      :disabled="session.selectedZones.length < 2"
      @click="laying.layers()"
    />
    <IconButton
      icon="wholeLoop"
      words="whole loop"
      hint="The whole loop on keys of its own: each starts it in time, as far from the root as it is"
      :disabled="!session.cut?.loop"
      @click="laying.wholeLoop()"
    />
    <IconButton
      icon="asCut"
      words="as cut"
      hint="Back on the keys that follow from their places in the sound"
      @click="laying.themselves()"
    />
    <IconButton
      icon="remove"
      words="take off"
      hint="Take the chosen sounds off their keys"
      :disabled="session.selectedZones.length === 0"
      @click="laying.takeOff()"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 5px;
  padding-bottom: 6px;
  flex-wrap: wrap;
}
.about {
  max-width: 160px;
  font-size: 13px;
  padding-right: 4px;
}
.way.v-btn {
  font-weight: 400;
}
.words {
  padding-left: 6px;
}
@media (max-width: 1350px) {
  .more {
    display: none;
  }
}
</style>
