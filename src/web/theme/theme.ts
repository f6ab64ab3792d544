/** Light or dark, as chosen here, else as the system says. */
import { ref } from 'vue';

const STORAGE_KEY = 'yappa.theme';

export type ThemeName = 'light' | 'dark';

function initial(): ThemeName {
  const chosen = localStorage.getItem(STORAGE_KEY);
  return chosen === 'dark' ? 'dark' : 'light';
}

export const themeName = ref<ThemeName>(initial());

export function applyTheme(name: ThemeName): void {
  themeName.value = name;
  document.documentElement.dataset.theme = name;
  localStorage.setItem(STORAGE_KEY, name);
}
