/** The application that runs on this machine, for commands that work on its shelf. */
import type { parseArgs } from 'node:util';
import { numberOption } from './args.ts';

const USUAL_PORT = 4780;

/** It does not run, or refuses: exit code 1. */
export class ServerError extends Error {}

export class Server {
  constructor(private readonly port: number) {}

  static of(values: ReturnType<typeof parseArgs>['values']): Server {
    const fallback = Number(process.env.PORT ?? USUAL_PORT);
    return new Server(numberOption(values, 'port', { min: 1, max: 65_535, whole: true, fallback })!);
  }

  /** @throws ServerError that says what is wrong, and what to do */
  async ask(path: string, init: RequestInit = {}): Promise<Response> {
    let response: Response;
    try {
      response = await fetch(`http://localhost:${this.port}/api${path}`, init);
    } catch {
      throw new ServerError(
        `nothing answers on port ${this.port}: start the application ("npm start"), or name its port with --port`,
      );
    }
    if (response.ok) return response;
    const body = (await response.json().catch(() => null)) as { message?: string } | null;
    throw new ServerError(body?.message ?? `the server answered ${response.status}`);
  }

  async json<T>(path: string, init?: RequestInit): Promise<T> {
    return (await (await this.ask(path, init)).json()) as T;
  }

  post<T>(path: string, body: object): Promise<T> {
    const headers = { 'Content-Type': 'application/json' };
    return this.json<T>(path, { method: 'POST', headers, body: JSON.stringify(body) });
  }
}
