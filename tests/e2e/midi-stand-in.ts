/** Devices that are not there, behind the browser's own way to MIDI: what the tests plug in, move and listen to. */
import { expect, type Page } from '@playwright/test';

export interface FakeMidi {
  /** Sends bytes of an input, at so many a second. */
  send(name: string, messages: readonly (readonly number[])[], perSecond?: number): Promise<void>;
  /** What an output was sent, with the time at which it was to go out. */
  sent(name: string): Promise<{ bytes: number[]; time: number }[]>;
  unplug(name: string): Promise<void>;
}

/** Has the page find these devices, each with an input and an output. Called before the page is opened, by a `testAnew`: a window keeps what it starts with. */
export async function fakeMidi(page: Page, names: readonly string[]): Promise<FakeMidi> {
  await page.addInitScript((devices) => {
    const port = (type: 'input' | 'output', name: string) => ({
      id: `${type}-${name}`,
      name,
      manufacturer: '',
      version: '',
      type,
      state: 'connected',
      connection: 'open',
      onmidimessage: null as ((event: { data: Uint8Array; timeStamp: number }) => void) | null,
      onstatechange: null,
      open: () => Promise.resolve(),
      close: () => Promise.resolve(),
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
      sent: [] as { bytes: number[]; time: number }[],
      send(data: number[] | Uint8Array, time?: number) {
        this.sent.push({ bytes: [...data], time: time ?? performance.now() });
      },
    });
    const inputs = new Map(devices.map((name) => [`input-${name}`, port('input', name)]));
    const outputs = new Map(devices.map((name) => [`output-${name}`, port('output', name)]));
    const access = {
      inputs,
      outputs,
      sysexEnabled: false,
      onstatechange: null as ((event: { port: unknown }) => void) | null,
    };
    Object.assign(window, { fakeMidi: access });
    Object.defineProperty(navigator, 'requestMIDIAccess', { value: () => Promise.resolve(access) });
  }, names);
  return {
    send: (name, messages, perSecond = Infinity) =>
      page.evaluate(
        async ([wanted, all, rate]) => {
          const { inputs } = (window as unknown as { fakeMidi: { inputs: Map<string, never> } }).fakeMidi;
          const input = inputs.get(`input-${wanted as string}`) as unknown as {
            onmidimessage: ((event: { data: Uint8Array; timeStamp: number }) => void) | null;
          };
          // A port is heard a moment after it is listed.
          while (!input.onmidimessage) await new Promise((resolve) => setTimeout(resolve, 5));
          const from = performance.now();
          for (const [place, bytes] of (all as number[][]).entries()) {
            const at = from + (place * 1000) / (rate as number);
            while (performance.now() < at) await new Promise((resolve) => setTimeout(resolve, 0));
            input.onmidimessage?.({ data: Uint8Array.from(bytes), timeStamp: performance.now() });
          }
        },
        [name, messages, perSecond] as const,
      ),
    sent: (name) =>
      page.evaluate((wanted) => {
        const { outputs } = (window as unknown as { fakeMidi: { outputs: Map<string, { sent: never[] }> } }).fakeMidi;
        return outputs.get(`output-${wanted}`)!.sent;
      }, name),
    unplug: (name) =>
      page.evaluate((wanted) => {
        const access = (
          window as unknown as {
            fakeMidi: {
              inputs: Map<string, object>;
              outputs: Map<string, object>;
              onstatechange: (event: object) => void;
            };
          }
        ).fakeMidi;
        const gone = access.inputs.get(`input-${wanted}`)!;
        Object.assign(gone, { state: 'disconnected', connection: 'pending' });
        access.inputs.delete(`input-${wanted}`);
        access.outputs.delete(`output-${wanted}`);
        access.onstatechange({ port: gone, timeStamp: performance.now() } as object);
      }, name),
  };
}

/** Listens to the devices that are there, of which this is one. */
export async function connectDevices(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Keyboards' }).click();
  await page.getByRole('button', { name: 'connect', exact: true }).click();
  await expect(page.getByTestId('devices-menu')).toContainText(`Listening to ${name}`);
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('devices-menu')).toBeHidden();
}
