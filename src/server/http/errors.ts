/** Turns errors into answers: a code, a sentence, the details; never a stack. */
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { z } from 'zod';
import { AppError, type AppErrorCode } from '#core/units/errors.ts';

const STATUS: Partial<Record<AppErrorCode, number>> = {
  'save.conflict': 409,
  'not-found': 404,
  'audio.missing': 404,
  'format.too-large': 413,
  'document.newer': 422,
  'upload.slow': 408,
};

/** SQLite's words for a disk on which nothing more can be written. */
export function isDiskFull(error: unknown): boolean {
  const { code = '', cause } = error as { code?: string; cause?: unknown };
  return (
    /^(SQLITE_FULL|SQLITE_IOERR_(WRITE|FSYNC|TRUNCATE|SHMSIZE)|ENOSPC|EDQUOT)$/.test(code) ||
    (!!cause && isDiskFull(cause))
  );
}

export function errorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, _request, response, next) => {
    if (response.headersSent) return next(error);
    if (error instanceof AppError) {
      response
        .status(STATUS[error.code] ?? 400)
        .json({ code: error.code, message: error.message, details: error.details });
    } else if (error instanceof z.ZodError) {
      const issue = error.issues[0];
      const message = `${issue?.path.join('.') || 'request'}: ${issue?.message ?? 'is not valid'}`;
      response.status(400).json({ code: 'request.invalid', message, details: {} });
    } else if (
      typeof (error as { status?: unknown }).status === 'number' &&
      (error as { status: number }).status < 500
    ) {
      const { status, message } = error as { status: number; message: string };
      response
        .status(status)
        .json({ code: status === 413 ? 'format.too-large' : 'request.invalid', message, details: {} });
    } else if (isDiskFull(error)) {
      log.error({ err: error }, 'disk full');
      response.status(507).json({ code: 'disk.full', message: 'the disk is full', details: {} });
    } else {
      log.error({ err: error }, 'request failed');
      response.status(500).json({ code: 'server.failed', message: 'the server could not do this', details: {} });
    }
  };
}
