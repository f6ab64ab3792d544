<script setup lang="ts">
/** Says that a role was guessed by older ears, and has the loop heard anew. */
import { hearAgain } from '#core/project/commands/hear-again.ts';
import { describeFailure } from '../../api/words.ts';
import { library } from '../../audio/services.ts';
import { useNotices } from '../../stores/frame/notices.ts';
import { useProject } from '../../stores/document/project.ts';
import { useSession } from '../../stores/document/session.ts';

const project = useProject();
const session = useSession();
const notices = useNotices();

async function listenAgain(): Promise<void> {
  const cut = session.cut!;
  const { placed } = session;
  const ranges = placed.map(({ startFrame, endFrame }) => ({ startFrame, endFrame }));
  try {
    const facts = await library.describe(cut.sourceId, ranges);
    const heard = Object.fromEntries(placed.map(({ slice }, place) => [slice.id, facts[place]!]));
    project.run('hear roles again', hearAgain, { cutId: cut.id, heard });
  } catch (error) {
    notices.error(describeFailure('Hearing it again', error));
  }
}
</script>

<template>
  <p class="quiet small" data-testid="old-guess">
    guessed by an older Yappa
    <v-btn size="small" data-tip="All of this loop; what was put right by hand stays" @click="listenAgain()"
      >hear it again</v-btn
    >
  </p>
</template>
