/**
 * Saves one project, whatever is on the screen: it outlives the bench, so that what was changed last is saved also when
 * another project has been opened meanwhile. One save is on its way at a time; what fails is tried again with growing
 * pauses; nothing is ever overwritten that this window has not seen.
 */
import type { LoadedProject, SaveRequest, Version } from '#core/api/projects.ts';
import { applyCheckedDiff, diff } from '#core/document/diff.ts';
import { SCHEMA_VERSION } from '#core/document/limits.ts';
import type { ProjectDocument } from '#core/document/schema.ts';
import { ApiError } from '../api/client.ts';
import { jsonText, LONG_TEXT } from '../api/json-text.ts';
import type { Draft, UnsavedStore } from './unsaved.ts';

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
/** A page that crashes loses at most what was changed in this time. */
const KEEP_AFTER_MS = 400;
const FIRST_RETRY_MS = 1000;
const LAST_RETRY_MS = 30_000;
/** A request that outlives its page may not be longer (Fetch standard, section 4.6), some room left. */
const MAX_KEEPALIVE_BYTES = 60_000;

export class ProjectSaver {
  state: SaveState = 'saved';
  /** Called when the state has changed, with the error that led to it. */
  onState: (error?: unknown) => void = () => undefined;
  /** Called when the browser could not keep what is not saved. */
  onNotKept: () => void = () => undefined;
  /** This window's version. */
  document: ProjectDocument;
  revision: number;
  /** Why what an earlier window has left could not be saved when this was opened. */
  openingError: unknown = null;
  private savedDocument: ProjectDocument;
  private label = 'change';
  /** The save that is sent, and sent again until it is answered. */
  private pending: { save: SaveRequest; document: ProjectDocument } | null = null;
  /** Under this id goes what comes after it; it stays the same while it grows, so that however much arrives is known. */
  private nextSaveId: string = crypto.randomUUID();
  private running: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private keepTimer: ReturnType<typeof setTimeout> | undefined;
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
   * Opens a project, with what windows that crashed or were closed have left unsaved. What of that cannot be saved now
   * stands in the opened document and waits, or, where it does not fit at all, stays kept as it is.
   * @throws ApiError when the project cannot be loaded
   */
  static async open(projectId: string, api: SaveApi, unsaved: UnsavedStore): Promise<ProjectSaver> {
    let openingError: unknown = null;
    for (const draft of await unsaved.left(projectId)) {
      let { baseRevision } = draft.saves[0]!;
      for (const [index, save] of draft.saves.entries()) {
        try {
          baseRevision = (await api.saveProject(projectId, { ...save, baseRevision })).revision;
        } catch (error) {
          const rest = { ...draft, saves: draft.saves.slice(index) };
          const resumed = await ProjectSaver.resumed(rest, baseRevision, error, api, unsaved);
          if (resumed) return resumed;
          openingError = error;
          break;
        }
        if (index === draft.saves.length - 1) await unsaved.remove(projectId, draft.windowId);
      }
    }
    const saver = new ProjectSaver(projectId, await api.loadProject(projectId), api, unsaved);
    saver.openingError = openingError;
    return saver;
  }

  /** Goes on where a window that is gone has stopped; null where what it left does not fit what it was made from. */
  private static async resumed(
    draft: Draft,
    baseRevision: number,
    error: unknown,
    api: SaveApi,
    unsaved: UnsavedStore,
  ): Promise<ProjectSaver | null> {
    const { projectId, saves } = draft;
    const base = await api.loadVersion(projectId, String(baseRevision));
    const saver = new ProjectSaver(projectId, base, api, unsaved);
    try {
      for (const [index, save] of saves.entries()) {
        saver.document = applyCheckedDiff(saver.document, save.changes);
        if (index === 0) saver.pending = { save: { ...save, baseRevision }, document: saver.document };
      }
    } catch {
      return null;
    }
    const { problemOfChange } = await import('#core/document/validate.ts');
    if (problemOfChange(base.document, saver.document) !== null) return null;
    saver.label = saves.at(-1)!.label;
    saver.nextSaveId = saves[1]?.saveId ?? crypto.randomUUID();
    saver.openingError = error;
    saver.fail(error);
    await saver.keepNow();
    await unsaved.remove(projectId, draft.windowId);
    return saver;
  }

  get isSaved(): boolean {
    return this.state === 'saved';
  }

  /** Takes this window's newest version; it is saved in a moment. */
  update(document: ProjectDocument, label: string): void {
    this.document = document;
    this.label = label;
    this.keepTimer ??= setTimeout(() => void this.keepNow(), KEEP_AFTER_MS);
    if (this.state === 'conflict') return;
    if (this.state !== 'saving') this.setState('waiting');
    this.schedule(SAVE_AFTER_MS);
  }

  /** What is not saved: what is being sent, and what has been changed since. */
  private get unsent(): SaveRequest[] {
    const { pending } = this;
    const changes = diff(pending?.document ?? this.savedDocument, this.document);
    const saves = pending ? [pending.save] : [];
    if (changes.length === 0) return saves;
    const baseRevision = this.revision + saves.length;
    const label = this.label || 'change';
    return [...saves, { saveId: this.nextSaveId, schemaVersion: SCHEMA_VERSION, baseRevision, label, changes }];
  }

  /** Puts what is not saved into the browser's database; with nothing left, takes it out. */
  private async keepNow(): Promise<void> {
    clearTimeout(this.keepTimer);
    this.keepTimer = undefined;
    const { projectId, unsaved } = this;
    const { windowId } = unsaved;
    const saves = this.unsent;
    if (saves.length === 0) await unsaved.remove(projectId, windowId);
    else if (!(await unsaved.put({ projectId, windowId, changedAt: Date.now(), saves }))) this.onNotKept();
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
    if (this.state === 'saved') return;
    if (this.state === 'conflict' || this.running) void this.keepNow();
    else void this.flush({ keepAlive: true });
  }

  private async save(isLeaving: boolean): Promise<void> {
    if (!this.pending) {
      const [save] = this.unsent;
      if (!save) {
        const { document } = this;
        await this.keepNow();
        // What was changed meanwhile is saved by the next round.
        if (this.document === document) this.setState('saved');
        return;
      }
      this.pending = { save, document: this.document };
      this.nextSaveId = crypto.randomUUID();
    }
    const sending = this.pending;
    this.setState('saving');
    const keeping = this.keepNow();
    // A page that crashes must know what it has sent; one that is being left has no time to wait.
    if (!isLeaving) await keeping;
    const { length } = jsonText(sending.save);
    // It has been written out and put by: sending it, too, would hold the page up in one go.
    if (!isLeaving && length > LONG_TEXT) await new Promise((resolve) => setTimeout(resolve));
    try {
      const keepAlive = isLeaving && length < MAX_KEEPALIVE_BYTES;
      const { revision } = await this.api.saveProject(this.projectId, sending.save, { keepAlive });
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
    void this.keepNow();
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
      // The next save is made anew: with the change that mends it, it will be taken. Until then it stays kept.
      this.pending = null;
      void this.keepNow();
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
    const theirs = await this.api.loadProject(this.projectId);
    // What is changed while it is being kept is kept, too.
    for (let kept = this.savedDocument; this.document !== kept;) {
      kept = this.document;
      const changes = diff(this.savedDocument, kept);
      if (changes.length === 0) continue;
      const label = `not taken: ${this.label}`.slice(0, 200);
      await this.api.keepVersion(this.projectId, { baseRevision: this.revision, label, changes });
    }
    this.pending = null;
    this.document = this.savedDocument = theirs.document;
    this.revision = theirs.revision;
    await this.keepNow();
    this.setState('saved');
    return theirs.document;
  }

  /** After a conflict: puts this window's version on top of the other one, which stays among the versions. */
  async keepMine(): Promise<void> {
    const theirs = await this.api.loadProject(this.projectId);
    this.pending = null;
    this.nextSaveId = crypto.randomUUID();
    this.savedDocument = theirs.document;
    this.revision = theirs.revision;
    this.setState('waiting');
    await this.flush();
  }
}

/** Trying again would change nothing. */
function isRefusal({ status }: ApiError): boolean {
  return status >= 400 && status < 500 && status !== 429 && status !== 408;
}
