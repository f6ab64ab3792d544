/** Listening to what is plugged in: asked for once, and done by itself from then on, as long as the browser allows it. */
import { useControllers } from './controllers.ts';
import { useClock } from '../sound/clock.ts';
import { useDevices } from './devices.ts';

const WANTED = 'yappa.devices-wanted';

/** With what they may move, and whose clock is followed. */
export async function connectDevices(): Promise<void> {
  useControllers();
  useClock();
  const devices = useDevices();
  await devices.connect();
  if (devices.state === 'on' || devices.state === 'none') localStorage.setItem(WANTED, 'yes');
}

/** As before the page was opened anew; nobody is asked. */
export async function reconnectDevices(): Promise<void> {
  if (localStorage.getItem(WANTED) === null || useDevices().state !== 'off') return;
  // Some browsers know no such permission.
  const permission = await navigator.permissions?.query({ name: 'midi' as PermissionName }).catch(() => null);
  if (permission?.state === 'granted') await connectDevices();
}
