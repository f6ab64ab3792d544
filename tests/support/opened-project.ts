/** A project opened in the stores of a page that has no server and no sound. */
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import { vi } from 'vitest';
import type { ProjectDocument } from '#core/document/schema.ts';
import { api } from '../../src/web/api/client.ts';
import { useProject } from '../../src/web/stores/document/project.ts';

/** Time stands still: nothing of it is saved later on, in the middle of another test. */
export async function openInStores(document: ProjectDocument): Promise<ReturnType<typeof useProject>> {
  vi.useFakeTimers();
  setActivePinia(createPinia());
  vi.spyOn(api, 'loadProject').mockImplementation(async () => ({ document, revision: 1 }));
  vi.spyOn(api, 'saveProject').mockImplementation(async () => ({ revision: 2 }));
  const project = useProject();
  await project.open(document.id);
  await nextTick();
  return project;
}

export function leaveStores(): void {
  vi.clearAllTimers();
  vi.useRealTimers();
  vi.restoreAllMocks();
}
