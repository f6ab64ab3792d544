/**
 * Calls into a worker and back: requests with an id, progress, cancel, and errors that keep their code. (A message
 * channel library would lose an error's class and code on the way.)
 */
import { AppError, type AppErrorCode } from '#core/units/errors.ts';
import { ApiError } from '../api/client.ts';
import { countCalls } from './calls.ts';

export interface WorkerError {
  code: string | null;
  /** HTTP status of a server's answer, 0 when there was none; absent for other errors. */
  status?: number;
  message: string;
  details: Record<string, string | number>;
}

export type ToWorker<Request> = { id: number; request: Request } | { id: number; cancel: true };

export type FromWorker =
  | { id: number; progress: number; early?: unknown }
  | { id: number; result: unknown }
  | { id: number; error: WorkerError };

export interface CallOptions {
  transfer?: Transferable[];
  /** `early` is what a job has to show before it is done. */
  onProgress?: (share: number, early?: unknown) => void;
  signal?: AbortSignal;
}

interface Pending {
  resolve: (value: unknown) => void;
  reject: (error: Error) => void;
  onProgress?: (share: number, early?: unknown) => void;
}

/** The page's side of a worker. */
export class WorkerClient<Request> {
  private readonly worker: Worker;
  private readonly pending = new Map<number, Pending>();
  private lastId = 0;

  constructor(worker: Worker) {
    this.worker = worker;
    worker.onmessage = (event: MessageEvent<FromWorker>) => this.receive(event.data);
    worker.onerror = (event) => {
      for (const { reject } of this.pending.values()) reject(new Error(event.message || 'a worker has failed'));
      this.forgetAll();
    };
  }

  /** @throws AppError as thrown in the worker; `cancelled` when the signal is aborted */
  call<Result>(request: Request, { transfer = [], onProgress, signal }: CallOptions = {}): Promise<Result> {
    const id = ++this.lastId;
    return new Promise<Result>((resolve, reject) => {
      if (signal?.aborted) {
        reject(new AppError('cancelled', 'given up before it began'));
        return;
      }
      countCalls(1);
      this.pending.set(id, { resolve: resolve as (value: unknown) => void, reject, onProgress });
      this.worker.postMessage({ id, request } satisfies ToWorker<Request>, transfer);
      signal?.addEventListener('abort', () =>
        this.worker.postMessage({ id, cancel: true } satisfies ToWorker<Request>),
      );
    });
  }

  /** Ends the worker; calls that wait are left without an answer. */
  close(): void {
    this.worker.terminate();
    this.forgetAll();
  }

  private forgetAll(): void {
    countCalls(-this.pending.size);
    this.pending.clear();
  }

  private receive(message: FromWorker): void {
    const waiting = this.pending.get(message.id);
    if (!waiting) return;
    if ('progress' in message) {
      waiting.onProgress?.(message.progress, message.early);
      return;
    }
    this.pending.delete(message.id);
    countCalls(-1);
    if ('result' in message) waiting.resolve(message.result);
    else {
      waiting.reject(restoreError(message.error));
    }
  }
}

export interface JobContext {
  /** Reports 0..1, with what there is to show already; gives false once the job was cancelled. */
  progress(share: number, early?: unknown): Promise<boolean>;
}

/** How far a job is, is told no more often than this; messages are let in as seldom. */
const TELL_EVERY_MS = 100;

/** Lets waiting messages in. A timer would do, but one that follows another waits for 4 ms (HTML, "timers"). */
function letMessagesIn(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
}

/** The worker's side: answers every request with `handle`; what it lists in `transfer` is moved, not copied. */
export function serve<Request>(
  handle: (request: Request, job: JobContext) => Promise<{ result: unknown; transfer?: Transferable[] }>,
): void {
  const cancelled = new Set<number>();
  const post = (message: FromWorker, transfer: Transferable[] = []) => self.postMessage(message, { transfer });
  self.onmessage = async (event: MessageEvent<ToWorker<Request>>) => {
    const message = event.data;
    if ('cancel' in message) {
      cancelled.add(message.id);
      return;
    }
    const { id, request } = message;
    let toldAt = -Infinity;
    const progress = async (share: number, early?: unknown) => {
      const now = performance.now();
      if (early === undefined && now - toldAt < TELL_EVERY_MS) return !cancelled.has(id);
      toldAt = now;
      post({ id, progress: share, early });
      await letMessagesIn();
      return !cancelled.has(id);
    };
    try {
      const { result, transfer } = await handle(request, { progress });
      post({ id, result }, transfer);
    } catch (error) {
      post({ id, error: describeError(error) });
    } finally {
      cancelled.delete(id);
    }
  };
}

function restoreError({ code, status, message, details }: WorkerError): Error {
  if (status !== undefined) return new ApiError(status, code ?? 'server.failed', message, details);
  return code ? new AppError(code as AppErrorCode, message, details) : new Error(message);
}

function describeError(error: unknown): WorkerError {
  if (error instanceof ApiError) {
    const { code, status, message, details } = error;
    return { code, status, message, details: { ...details } };
  }
  if (error instanceof AppError) return { code: error.code, message: error.message, details: { ...error.details } };
  return { code: null, message: error instanceof Error ? error.message : String(error), details: {} };
}
