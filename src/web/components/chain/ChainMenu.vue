<script setup lang="ts">
/** What can be done with a whole chain: copied, put on, kept on the shelf under a name. */
import { ref } from 'vue';
import { useChain } from '../../stores/sound/chain.ts';
import NameDialog from '../shared/NameDialog.vue';

const chain = useChain();
const isNaming = ref(false);
</script>

<template>
  <v-menu>
    <template #activator="{ props: menu }">
      <v-btn v-bind="menu" variant="outlined" data-tip="Copy the chain, keep it on the shelf, put another one on"
        >whole chain …</v-btn
      >
    </template>
    <v-list>
      <v-list-item title="Copy" :disabled="chain.effects.length === 0" @click="chain.copyAll()" />
      <v-list-item
        :title="chain.copied ? `Put on the chain of ${chain.copied.name}` : 'Put on a copied chain'"
        :disabled="!chain.copied"
        data-tip="In the place of what is here"
        @click="chain.copied && chain.putOn(chain.copied)"
      />
      <v-list-item
        title="Keep on the shelf …"
        :disabled="chain.effects.length === 0"
        data-tip="Under a name, for any part of any project"
        @click="isNaming = true"
      />
      <v-list-item
        title="From the shelf"
        :disabled="chain.shelfList.length === 0"
        data-tip="In the place of what is here"
      >
        <v-menu activator="parent" submenu>
          <v-list>
            <v-list-item
              v-for="one in chain.shelfList"
              :key="one.id"
              :title="one.name"
              :subtitle="one.facts.words.join(', ')"
              @click="chain.putOnFromShelf(one)"
            />
          </v-list>
        </v-menu>
      </v-list-item>
    </v-list>
  </v-menu>
  <NameDialog v-if="isNaming" v-model="isNaming" what="chain" does="Keep" name="" @rename="chain.keep($event)" />
</template>
