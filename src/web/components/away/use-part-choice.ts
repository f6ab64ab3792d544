/** Which part something is taken from: the one that was chosen for it, else the one that is worked on. */
import { computed } from 'vue';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

export function usePartChoice(chosenId: () => string | null) {
  const project = useProject();
  const session = useSession();
  const parts = computed(() => project.document?.partOrder.map((id) => project.document!.parts[id]!) ?? []);
  const partChoices = computed(() => parts.value.map(({ id, name }) => ({ value: id, words: name })));
  const part = computed(
    () => parts.value.find(({ id }) => id === chosenId()) ?? session.part ?? parts.value[0] ?? null,
  );
  return { partChoices, part };
}
