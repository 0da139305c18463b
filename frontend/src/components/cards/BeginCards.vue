<script setup lang="ts">
import { Modal } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { useBeginCards } from '@/composables/useBeginCards'
import { byTitle } from '@/logic/choices'

/** Whose cards, and in which roster the cards themselves are kept: the rest can be altered later. */
const emit = defineEmits<{ close: []; begun: [name: string] }>()

const {
  title,
  people,
  register,
  busy,
  problem,
  rosters,
  registers,
  fieldsOf,
  value,
  choose,
  asked,
  codes,
  inUse,
  states,
  ready,
  start,
} = useBeginCards()
async function go(): Promise<void> {
  const name = ready.value && (await start())
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
        <input v-model="title" class="box" maxlength="80" placeholder="Library card"
      /></label>
      <p class="line">
        Who gets it
        <ChooseOne
          v-model="people"
          :options="rosters"
          label="Who gets it"
          placeholder="people of a roster"
        />
      </p>
      <p class="line">
        Where the cards are kept
        <ChooseOne
          v-model="register"
          :options="registers"
          label="Where the cards are kept"
          placeholder="a roster of cards"
        />
      </p>
      <p class="soft small">
        Each card is a record there, with a number that no other has and whose it is.
      </p>
      <template v-if="people && register">
        <p v-for="[name, roster, words] in asked" :key="name" class="line">
          {{ words }}
          <ChooseOne
            :model-value="value(name)"
            :options="byTitle(fieldsOf(roster))"
            :label="words"
            placeholder="a field"
            @update:model-value="(field) => choose(name, field)"
          />
        </p>
      </template>
      <p v-if="people && codes.length" class="line">
        A card in use is
        <ChooseOne
          :model-value="states.in_use ?? ''"
          :options="codes.map((one) => ({ value: one.code, label: one.label || one.code }))"
          label="A card in use is"
          placeholder="a state"
          @update:model-value="(code) => (inUse = code ?? '')"
        />
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <p class="do">
        <button class="btn main" :disabled="!ready || busy">
          {{ busy ? 'Beginning it …' : 'Begin it' }}</button><button
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
