/** The computer keyboard as keys: where it begins, how strong it strikes, and its pedal. */
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { firstLetterKey } from '#core/queries/free-keys.ts';
import { partValues } from '#core/queries/values.ts';
import { useSession } from '../document/session.ts';

const LOWEST_OCTAVE = -5;
const HIGHEST_OCTAVE = 5;
const STRENGTH_STEP = 10;

export const useTyping = defineStore('typing', () => {
  const session = useSession();
  /** Octaves from where the sounds of the part are. */
  const octave = ref(0);
  /** The key that the first letter plays. */
  const firstKey = computed(() => {
    const startKey = session.part ? partValues(session.part).startKey : 48;
    return firstLetterKey(session.zones, startKey) + 12 * octave.value;
  });
  /** 1..127: a computer keyboard knows no strength. */
  const strength = ref(114);

  function moveOctave(by: number): void {
    octave.value = Math.max(LOWEST_OCTAVE, Math.min(HIGHEST_OCTAVE, octave.value + by));
  }

  function moveStrength(by: 1 | -1): void {
    strength.value = Math.max(1, Math.min(127, strength.value + by * STRENGTH_STEP));
  }

  return { octave, firstKey, strength, moveOctave, moveStrength };
});
