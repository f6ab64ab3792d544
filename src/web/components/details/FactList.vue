<script setup lang="ts">
/** Things that are as they are, in two columns. */
defineProps<{ facts: readonly { name: string; value: string }[] }>();
</script>

<template>
  <dl class="facts">
    <div v-for="{ name, value } in facts" :key="name">
      <dt>{{ name }}</dt>
      <dd>{{ value }}</dd>
    </div>
  </dl>
</template>

<style scoped>
.facts {
  margin: 0;
}
</style>
