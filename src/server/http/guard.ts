/** Who may talk to the server: pages it served itself, on this machine. */
import type { RequestHandler } from 'express';
import helmet from 'helmet';

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '[::1]']);

function hostName(host: string): string {
  return host.replace(/:\d+$/, '').toLowerCase();
}

/** Refuses requests whose Host is not this machine (DNS rebinding) or whose Origin is another page. */
export const refuseForeign: RequestHandler = (request, response, next) => {
  const host = request.headers.host ?? '';
  const { origin } = request.headers;
  const foreignOrigin = origin !== undefined && origin !== `http://${host}`;
  if (!LOOPBACK.has(hostName(host)) || foreignOrigin) {
    response
      .status(403)
      .json({ code: 'request.foreign', message: 'only pages of this server may ask this', details: {} });
    return;
  }
  next();
};

/**
 * Headers that let nothing foreign in. WebAssembly is needed by the decoders, inline styles by the interface toolkit;
 * the isolation headers give shared memory between the page, its workers and the audio thread.
 */
export const securityHeaders: RequestHandler = helmet({
  contentSecurityPolicy: {
    useDefaults: false,
    directives: {
      defaultSrc: ["'self'"],
      scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
      styleSrc: ["'self'", "'unsafe-inline'"],
      imgSrc: ["'self'", 'data:', 'blob:'],
      fontSrc: ["'self'"],
      connectSrc: ["'self'"],
      workerSrc: ["'self'"],
      objectSrc: ["'none'"],
      frameAncestors: ["'none'"],
      baseUri: ["'none'"],
      formAction: ["'self'"],
    },
  },
  crossOriginEmbedderPolicy: { policy: 'require-corp' },
  crossOriginOpenerPolicy: { policy: 'same-origin' },
  crossOriginResourcePolicy: { policy: 'same-origin' },
  strictTransportSecurity: false,
});
