/**
 * Saves one project, whatever is on the screen: it outlives the bench, so that what was changed last is saved also when
 * another project has been opened meanwhile. One save is on its way at a time; what fails is tried again with growing
 * pauses; nothing is ever overwritten that this window has not seen.
 */
import type { LoadedProject, SaveRequest, Version } from '#core/api/projects.ts';
import { applyDiff, diff } from '#core/project/diff.ts';
import type { ProjectDocument } from '#core/project/schema.ts';
import { ApiError } from '../api/client.ts';
import { jsonText, LONG_TEXT } from '../api/json-text.ts';
import type { UnsavedStore } from './unsaved.ts';

/**
 * `waiting`: changed, and about to be saved. `failed`: it will be tried again by itself. `refused`: the server does not
 * take it as it is; it is tried again with the next change. `conflict`: the user has to choose.
 */
export type SaveState = 'saved' | 'waiting' | 'saving' | 'failed' | 'refused' | 'conflict';

/** What a saver needs of the server. */
export interface SaveApi {
  loadProject(id: string): Promise<LoadedProject>;
  loadVersion(id: string, versionId: string): Promise<LoadedProject>;
  saveProject(id: string, save: SaveRequest, options?: { keepAlive?: boolean }): Promise<{ revision: number }>;
  keepVersion(id: string, version: Omit<SaveRequest, 'saveId'>): Promise<Version>;
}

const SAVE_AFTER_MS = 250;
const FIRST_RETRY_MS = 1000;
const LAST_RETRY_MS = 30_000;
/** A request that outlives its page may not be longer (Fetch standard, section 4.6), some room left. */
const MAX_KEEPALIVE_BYTES = 60_000;

export class ProjectSaver {
  state: SaveState = 'saved';
  /** Called when the state has changed, with the error that led to it. */
  onState: (error?: unknown) => void = () => undefined;
  /** This window's version. */
  document: ProjectDocument;
  revision: number;
  private savedDocument: ProjectDocument;
  private label = 'change';
  private pending: { save: SaveRequest; document: ProjectDocument } | null = null;
  private running: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private retryMs = FIRST_RETRY_MS;

  constructor(
    readonly projectId: string,
    loaded: LoadedProject,
    private readonly api: SaveApi,
    private readonly unsaved: UnsavedStore,
  ) {
    this.document = this.savedDocument = loaded.document;
    this.revision = loaded.revision;
  }

  /**
   * Opens a project, with what a window that crashed or was closed has left unsaved.
   * @throws ApiError when the project cannot be loaded
   */
  static async open(projectId: string, api: SaveApi, unsaved: UnsavedStore): Promise<ProjectSaver> {
    for (const save of unsaved.list(projectId)) {
      try {
        await api.saveProject(projectId, save);
        unsaved.remove(projectId, save.saveId);
      } catch (error) {
        if (error instanceof ApiError && error.code === 'save.conflict') {
          return await ProjectSaver.inConflict(projectId, save, api, unsaved);
        }
        // A save that is refused for good would be refused for ever.
        if (error instanceof ApiError && isRefusal(error)) unsaved.remove(projectId, save.saveId);
      }
    }
    return new ProjectSaver(projectId, await api.loadProject(projectId), api, unsaved);
  }

  private static async inConflict(
    projectId: string,
    save: SaveRequest,
    api: SaveApi,
    unsaved: UnsavedStore,
  ): Promise<ProjectSaver> {
    const base = await api.loadVersion(projectId, String(save.baseRevision));
    const saver = new ProjectSaver(projectId, base, api, unsaved);
    saver.document = applyDiff(base.document, save.changes);
    saver.label = save.label;
    saver.pending = { save, document: saver.document };
    saver.setState('conflict');
    return saver;
  }

  get isSaved(): boolean {
    return this.state === 'saved';
  }

  /** Takes this window's newest version; it is saved in a moment. */
  update(document: ProjectDocument, label: string): void {
    this.document = document;
    this.label = label;
    if (this.state === 'conflict') return;
    if (this.state !== 'saving') this.setState('waiting');
    this.schedule(SAVE_AFTER_MS);
  }

  private setState(state: SaveState, error?: unknown): void {
    this.state = state;
    this.onState(error);
  }

  private schedule(delayMs: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), delayMs);
  }

  /** Saves what is not saved yet, now; resolves when that is done or has failed. */
  async flush(options: { keepAlive?: boolean } = {}): Promise<void> {
    clearTimeout(this.timer);
    while (this.running) await this.running;
    if (this.state === 'conflict' || this.state === 'saved') return;
    this.running = this.save(options.keepAlive ?? false);
    try {
      await this.running;
    } finally {
      this.running = null;
    }
  }

  /** The page is being left: what is unsaved is kept in the browser, and sent as far as that is still possible. */
  leave(): void {
    if (this.state === 'saved' || this.state === 'conflict') return;
    this.makePending();
    if (this.pending && !this.running) void this.flush({ keepAlive: true });
  }

  private makePending(): void {
    if (this.pending) return;
    const changes = diff(this.savedDocument, this.document);
    if (changes.length === 0) return;
    const { document, label } = this;
    const save = { saveId: crypto.randomUUID(), baseRevision: this.revision, label: label || 'change', changes };
    this.pending = { save, document };
    this.unsaved.put(this.projectId, save);
  }

  private async save(keepAlive: boolean): Promise<void> {
    this.makePending();
    const sending = this.pending;
    if (!sending) {
      this.setState('saved');
      return;
    }
    this.setState('saving');
    const { length } = jsonText(sending.save);
    // It has been written out and put by: sending it, too, would hold the page up in one go.
    if (!keepAlive && length > LONG_TEXT) await new Promise((resolve) => setTimeout(resolve));
    try {
      const isShort = keepAlive && length < MAX_KEEPALIVE_BYTES;
      const { revision } = await this.api.saveProject(this.projectId, sending.save, { keepAlive: isShort });
      this.acknowledge(sending, revision);
    } catch (error) {
      this.fail(error);
    }
  }

  private acknowledge(sent: { save: SaveRequest; document: ProjectDocument }, revision: number): void {
    this.revision = revision;
    this.savedDocument = sent.document;
    this.pending = null;
    this.retryMs = FIRST_RETRY_MS;
    this.unsaved.remove(this.projectId, sent.save.saveId);
    if (this.document === sent.document) this.setState('saved');
    else {
      this.setState('waiting');
      this.schedule(0);
    }
  }

  private fail(error: unknown): void {
    if (error instanceof ApiError && error.code === 'save.conflict') {
      this.setState('conflict', error);
      return;
    }
    if (error instanceof ApiError && isRefusal(error)) {
      // The next save is made anew: with the change that mends it, it will be taken.
      this.unsaved.remove(this.projectId, this.pending!.save.saveId);
      this.pending = null;
      this.setState('refused', error);
      return;
    }
    // The same save is sent again: should the first one have arrived after all, the server knows its id.
    this.setState('failed', error);
    this.schedule(this.retryMs);
    this.retryMs = Math.min(LAST_RETRY_MS, this.retryMs * 2);
  }

  /**
   * After a conflict: this window's version is kept beside the others, and the one that was saved elsewhere is taken.
   * @returns what is open now
   */
  async takeTheirs(): Promise<ProjectDocument> {
    const changes = diff(this.savedDocument, this.document);
    if (changes.length > 0) {
      const label = `not taken: ${this.label}`.slice(0, 200);
      await this.api.keepVersion(this.projectId, { baseRevision: this.revision, label, changes });
    }
    const theirs = await this.api.loadProject(this.projectId);
    this.dropPending();
    this.document = this.savedDocument = theirs.document;
    this.revision = theirs.revision;
    this.setState('saved');
    return theirs.document;
  }

  /** After a conflict: puts this window's version on top of the other one, which stays among the versions. */
  async keepMine(): Promise<void> {
    const theirs = await this.api.loadProject(this.projectId);
    this.dropPending();
    this.savedDocument = theirs.document;
    this.revision = theirs.revision;
    this.setState('waiting');
    await this.flush();
  }

  private dropPending(): void {
    if (this.pending) this.unsaved.remove(this.projectId, this.pending.save.saveId);
    this.pending = null;
  }
}

/** Trying again would change nothing. */
function isRefusal({ status }: ApiError): boolean {
  return status >= 400 && status < 500 && status !== 429 && status !== 408;
}
