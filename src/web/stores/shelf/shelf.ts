/** The lists on the shelf. Deleting can be undone from the message that tells of it. */
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { useThrottleFn } from '@vueuse/core';
import { renameProject as renameOpenProject } from '#core/project/commands/song.ts';
import { diff } from '#core/document/diff.ts';
import { api, type DeletedItem, type ProjectSummary, type SourceSummary } from '../../api/client.ts';
import { describeFailure } from '../../api/words.ts';
import { useNotices } from '../frame/notices.ts';
import { useProject } from '../document/project.ts';

/** Of a project that nobody has named: it takes the name of its first sound. */
export const NEW_PROJECT_NAME = 'New project';

/** While many sounds come in, the list is fetched no more often than this. */
const REFRESH_EVERY_MS = 2_000;

/** All of a sound that can become another while its samples stay; the rest of thousands is not compared. */
function changingOf({
  name,
  createdAt,
  tags,
  isUsed,
  hasPrints,
  facts: { tempo, origin, heard },
}: SourceSummary): string {
  return JSON.stringify([name, createdAt, tags, isUsed, hasPrints, tempo, origin, heard]);
}

export const useShelf = defineStore('shelf', () => {
  const notices = useNotices();
  const open = useProject();
  const projects = shallowRef<readonly ProjectSummary[]>([]);
  const sources = shallowRef<readonly SourceSummary[]>([]);
  const deleted = shallowRef<{ projects: DeletedItem[]; sources: DeletedItem[]; keptDays: number }>({
    projects: [],
    sources: [],
    keptDays: 0,
  });
  const loaded = ref(false);

  async function refreshProjects(): Promise<void> {
    projects.value = await api.listProjects();
  }

  async function refreshSources(): Promise<void> {
    const known = new Map(sources.value.map((source) => [source.id, source]));
    const now = await api.listSources();
    // What has not changed stays the same object: nothing of it is drawn anew.
    sources.value = now.map((source) => {
      const before = known.get(source.id);
      return before && changingOf(before) === changingOf(source) ? before : source;
    });
  }

  /** The same, but not for each of many that come one after the other. */
  const refreshSourcesSoon = useThrottleFn(refreshSources, REFRESH_EVERY_MS, true);

  async function refreshDeleted(): Promise<void> {
    deleted.value = await api.listDeleted();
  }

  async function refresh(): Promise<void> {
    await attempt('The shelf', async () => {
      await Promise.all([refreshProjects(), refreshSources(), refreshDeleted()]);
      loaded.value = true;
    });
  }

  /** Does something and tells when it fails. */
  async function attempt<T>(what: string, action: () => Promise<T>): Promise<T | null> {
    try {
      return await action();
    } catch (error) {
      notices.error(describeFailure(what, error));
      return null;
    }
  }

  function createProject(name = NEW_PROJECT_NAME): Promise<ProjectSummary | null> {
    return attempt('The new project', async () => {
      const created = await api.createProject(name);
      await refreshProjects();
      return created;
    });
  }

  async function renameProject(project: ProjectSummary, name: string): Promise<void> {
    if (!name.trim() || name.trim() === project.name) return;
    await attempt(project.name, async () => {
      // The one that is open is changed where it is open: a save beside it would be a conflict.
      if (open.document?.id === project.id) {
        open.run('rename project', renameOpenProject, { name });
        await open.flush();
        await refreshProjects();
        return;
      }
      const { document, revision } = await api.loadProject(project.id);
      const changes = diff(document, { ...document, name: name.trim().slice(0, 200) });
      await api.saveProject(project.id, {
        saveId: crypto.randomUUID(),
        baseRevision: revision,
        label: 'rename',
        changes,
      });
      await refreshProjects();
    });
  }

  async function duplicateProject(project: ProjectSummary): Promise<void> {
    await attempt(project.name, async () => {
      if (open.document?.id === project.id) await open.flush();
      await api.duplicateProject(project.id);
      await refreshProjects();
    });
  }

  async function removeProject(project: ProjectSummary): Promise<void> {
    await attempt(project.name, async () => {
      if (open.document?.id === project.id) await open.close();
      await api.removeProject(project.id);
      await Promise.all([refreshProjects(), refreshDeleted()]);
      const back = () => void bringBack({ ...project, what: 'project' });
      notices.info(`"${project.name}" is deleted.`, { label: 'Undo', run: back });
    });
  }

  async function renameSource(source: SourceSummary, name: string): Promise<void> {
    if (!name.trim() || name.trim() === source.name) return;
    await attempt(source.name, () => api.changeSource(source.id, { name: name.trim() }).then(refreshSources));
  }

  /** Gives sounds a tag, or takes it off them. */
  async function setTag(chosen: readonly SourceSummary[], tag: string, isOn: boolean): Promise<void> {
    await attempt(tag, async () => {
      for (const { id, tags } of chosen) {
        const without = tags.filter((other) => other !== tag);
        await api.changeSource(id, { tags: isOn ? [...without, tag] : without });
      }
      await refreshSources();
    });
  }

  async function removeSource(source: SourceSummary): Promise<void> {
    await attempt(source.name, async () => {
      await api.removeSource(source.id);
      await Promise.all([refreshSources(), refreshDeleted()]);
      const back = () => void bringBack({ ...source, what: 'sound' });
      notices.info(`"${source.name}" is off the shelf; projects that play it keep it.`, { label: 'Undo', run: back });
    });
  }

  /** Takes several off the shelf; one message brings all of them back. */
  async function removeSources(chosen: readonly SourceSummary[]): Promise<void> {
    if (chosen.length === 1) return removeSource(chosen[0]!);
    await attempt(`${chosen.length} sounds`, async () => {
      for (const { id } of chosen) await api.removeSource(id);
      await Promise.all([refreshSources(), refreshDeleted()]);
      const back = async () => {
        for (const source of chosen) await bringBack({ ...source, what: 'sound' });
      };
      notices.info(`${chosen.length} sounds are off the shelf; projects that play them keep them.`, {
        label: 'Undo',
        run: () => void back(),
      });
    });
  }

  async function bringBack({ id, name, what }: { id: string; name: string; what: 'project' | 'sound' }): Promise<void> {
    await attempt(name, async () => {
      await (what === 'project' ? api.restoreProject(id) : api.restoreSource(id));
      await refresh();
    });
  }

  /** Gives up for good what was deleted. */
  async function emptyDeleted(): Promise<void> {
    await attempt('Emptying', async () => {
      await api.emptyDeleted();
      await refreshDeleted();
    });
  }

  return {
    projects,
    sources,
    deleted,
    bringBack,
    emptyDeleted,
    loaded,
    refresh,
    refreshProjects,
    refreshSources,
    refreshSourcesSoon,
    createProject,
    renameProject,
    duplicateProject,
    removeProject,
    renameSource,
    setTag,
    removeSource,
    removeSources,
  };
});
