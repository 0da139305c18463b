<script setup lang="ts">
import { reactive } from 'vue'
import { Modal } from 'ant-design-vue'
import LikeDesign from './LikeDesign.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesignBrief } from '@/api/types'
import { useBeginCards } from '@/composables/useBeginCards'
import { byTitle } from '@/logic/choices'

/** Whose cards, and in which roster the cards themselves are kept: the rest can be altered later. */
const props = defineProps<{ designs: CardDesignBrief[] }>()
const emit = defineEmits<{ close: []; begun: [name: string] }>()

const begun = reactive(useBeginCards(() => props.designs.map((one) => one.name)))
async function go(): Promise<void> {
  const name = begun.ready && (await begun.start())
  if (name) emit('begun', name)
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    title="Begin a card design"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <form @submit.prevent="go">
      <label class="line"
        >What it is called
        <input v-model="begun.title" class="box" maxlength="80" placeholder="Library card"
      /></label>
      <p class="line">Made like <LikeDesign :designs="designs" @take="begun.take" /></p>
      <p v-if="begun.like" class="soft small">
        Everything on the cards, whose they are and where they are kept is as in “{{
          begun.like.title || begun.like.name
        }}”; it can be altered later.
      </p>
      <template v-else>
        <p class="line">
          Who gets it
          <ChooseOne
            v-model="begun.people"
            :options="begun.rosters"
            label="Who gets it"
            placeholder="people of a roster"
          />
        </p>
        <p class="line">
          Where the cards are kept
          <ChooseOne
            v-model="begun.register"
            :options="begun.registers"
            label="Where the cards are kept"
            placeholder="a roster of cards"
          />
        </p>
        <p class="soft small">
          Each card is a record there, with a number that no other has and whose it is.
        </p>
        <template v-if="begun.people && begun.register">
          <p v-for="[name, roster, words] in begun.asked" :key="name" class="line">
            {{ words }}
            <ChooseOne
              :model-value="begun.value(name)"
              :options="byTitle(begun.fieldsOf(roster))"
              :label="words"
              placeholder="a field"
              @update:model-value="(field) => begun.choose(name, field)"
            />
          </p>
        </template>
        <p v-if="begun.people && begun.codes.length" class="line">
          A card in use is
          <ChooseOne
            :model-value="begun.states.in_use ?? ''"
            :options="begun.codes.map((one) => ({ value: one.code, label: one.label || one.code }))"
            label="A card in use is"
            placeholder="a state"
            @update:model-value="(code) => (begun.inUse = code ?? '')"
          />
        </p>
      </template>
      <p v-if="begun.problem" class="flag stop" role="alert">{{ begun.problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="!begun.ready || begun.busy">
          {{ begun.busy ? 'Beginning it …' : 'Begin it' }}</button><button
          type="button"
          class="btn"
          @click="emit('close')"
        >
          Cancel
        </button>
      </p>
    </form>
  </Modal>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 220px 1fr;
  gap: 10px;
  align-items: center;
  margin-bottom: 6px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
