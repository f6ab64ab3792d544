<script setup lang="ts">
/** The guide, as it stands in docs/guide.md: the work in its order on one page, with the demo's pictures. */
import { marked } from 'marked';
import { useRouter } from 'vue-router';
import guide from '../../../docs/guide.md?raw';
import PlaceFrame from '../components/frame/PlaceFrame.vue';

const router = useRouter();
const pictures = import.meta.glob<string>('../../../docs/screenshots/*.png', {
  query: '?url',
  import: 'default',
  eager: true,
});
/** Pictures where the build has put them; headings under that of the place. */
const text = guide.replaceAll(/\(screenshots\/([\w-]+)\.png\)/g, (_all, name: string) => {
  return `(${pictures[`../../../docs/screenshots/${name}.png`] ?? ''})`;
});
const html = marked.parse(text.replace(/^# .*$/m, ''), { async: false });
</script>

<template>
  <PlaceFrame title="From a loop to a piece">
    <template #tools><v-btn @click="router.back()">back</v-btn></template>
    <!-- eslint-disable-next-line vue/no-v-html -- our own text, from the build -->
    <article class="guide sheet" tabindex="0" aria-label="The guide" v-html="html" />
  </PlaceFrame>
</template>

<style scoped>
.guide {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
  padding: 10px 26px 40px;
  line-height: 1.55;
}
.guide :deep(> *) {
  max-width: 760px;
  margin-inline: auto;
}
.guide :deep(h2) {
  margin-top: 26px;
  font-size: 19px;
}
.guide :deep(p) {
  margin-block: 8px;
}
.guide :deep(img) {
  display: block;
  width: 100%;
  border: 1px solid var(--rule);
  border-radius: 4px;
}
.guide :deep(code) {
  font-family: var(--mono);
}
</style>
