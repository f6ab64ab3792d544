/** Buses and sends: where channels are led, what they send to, and the channels that others come together in. */
import { defineStore } from 'pinia';
import { computed } from 'vue';
import { addBus, addSend, leadTo, removeBus, removeSend, renameBus } from '#core/project/commands/channels.ts';
import { setValue } from '#core/project/commands/values.ts';
import { channelValues } from '#core/queries/values.ts';
import { useProject } from '../document/project.ts';

export const useBuses = defineStore('buses', () => {
  const project = useProject();
  const buses = computed(() => Object.values(project.document?.channels ?? {}).filter(({ kind }) => kind === 'bus'));

  /** @returns the new bus's id */
  function add(label = 'add a bus', name = `Bus ${buses.value.length + 1}`): string | null {
    return project.run(label, addBus, { name })?.made[0] ?? null;
  }

  function lead(channelId: string, outputId: string | null): void {
    project.run('lead to', leadTo, { channelId, outputId });
  }

  /** To a bus that is made for it. */
  function leadToNew(channelId: string): void {
    project.step('lead to a new bus', () => {
      const outputId = add('');
      if (outputId) lead(channelId, outputId);
    });
  }

  function send(fromChannelId: string, toChannelId: string | null): void {
    project.step('send to', () => {
      const to = toChannelId ?? add('');
      if (to) project.run('', addSend, { fromChannelId, toChannelId: to });
    });
  }

  function toggle(channelId: string, param: 'muted' | 'soloed'): void {
    const to = !channelValues(project.document!.channels[channelId]!)[param];
    const owners = [{ kind: 'channel' as const, id: channelId }];
    project.run(param === 'muted' ? 'mute' : 'solo', setValue, { owners, param, change: { to } });
  }

  return {
    buses,
    add,
    lead,
    leadToNew,
    send,
    toggle,
    rename: (channelId: string, name: string) => project.run('rename the bus', renameBus, { channelId, name }),
    remove: (channelId: string) => project.run('remove the bus', removeBus, { channelId }),
    endSend: (sendId: string) => project.run('send no more', removeSend, { sendId }),
  };
});
