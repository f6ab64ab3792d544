/** The dialogs of the frame that several hands can open. */
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** What is printed of a part: what its pattern plays, what hands or helpers have just played, its chosen sounds; or what was heard last. */
export type PrintOf = 'pattern' | 'played' | 'helpers' | 'sounds' | 'mix';

export const useDialogs = defineStore('dialogs', () => {
  const searching = ref(false);
  const helping = ref(false);
  const versions = ref(false);
  /** A MIDI file that is to become a pattern of the open part. */
  const midiFile = shallowRef<File | null>(null);
  /** A part that is to be printed. */
  const printPartId = ref<string | null>(null);
  /** What of it. */
  const printOf = ref<PrintOf>('pattern');
  /** A sound whose pitch is to be made flat. */
  const flatZoneId = ref<string | null>(null);
  /** The stand-in controller is open. */
  const standIn = ref(false);
  return { flatZoneId, standIn, printPartId, printOf, midiFile, searching, helping, versions };
});
