/** Errors that people can do something about. A caller's bug is a `RangeError` instead. */

export type AppErrorCode =
  | 'format.unknown'
  | 'format.broken'
  | 'format.empty'
  | 'format.silent'
  | 'format.too-large'
  | 'document.invalid'
  | 'document.newer'
  | 'save.conflict'
  | 'audio.missing'
  | 'upload.slow'
  | 'disk.full'
  | 'input.refused'
  | 'input.missing'
  | 'not-found'
  | 'cancelled';

/** An error with a stable code and the facts that the interface turns into words. */
export class AppError extends Error {
  readonly code: AppErrorCode;
  readonly details: Readonly<Record<string, string | number>>;

  constructor(code: AppErrorCode, message: string, details: Record<string, string | number> = {}) {
    super(message);
    this.name = 'AppError';
    this.code = code;
    this.details = details;
  }
}
