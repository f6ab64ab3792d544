/** The dialogs of the frame that several hands can open. */
import { defineStore } from 'pinia';
import { ref } from 'vue';

export const useDialogs = defineStore('dialogs', () => {
  const searching = ref(false);
  const helping = ref(false);
  const versions = ref(false);
  return { searching, helping, versions };
});
