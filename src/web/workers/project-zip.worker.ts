/** Opens a whole project that was taken away as one zip. */
import { readProjectZip, type OpenedProject } from '#core/takeaway/project-zip.ts';
import { serve } from './rpc.ts';

export interface ProjectZipRequest {
  file: Blob;
}

serve<ProjectZipRequest>(async ({ file }) => {
  const opened: OpenedProject = readProjectZip(new Uint8Array(await file.arrayBuffer()));
  return { result: opened, transfer: opened.sounds.map(({ bytes }) => bytes.buffer) };
});
