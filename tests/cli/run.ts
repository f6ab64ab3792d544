/** Runs the command line as a user does. */
import { execFile } from 'node:child_process';

export interface Run {
  code: number;
  stdout: string;
  stderr: string;
}

export function yappa(...args: string[]): Promise<Run> {
  return new Promise((resolve) => {
    execFile('node', ['scripts/yappa.mjs', ...args], { maxBuffer: 1 << 26 }, (error, stdout, stderr) => {
      resolve({ code: error ? Number(error.code) : 0, stdout, stderr });
    });
  });
}
