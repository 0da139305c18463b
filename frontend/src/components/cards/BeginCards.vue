<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { beginDesign } from '@/api/cards'
import type { Field } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { begin, guess } from '@/logic/begincards'
import { byTitle } from '@/logic/choices'

/** Whose cards, and in which roster the cards themselves are kept: the rest can be altered later. */
const emit = defineEmits<{ close: []; begun: [name: string] }>()

const catalog = useCatalog()
const title = ref('')
const people = ref('')
const register = ref('')
const chosen = ref<Record<string, string>>({})
const busy = ref(false)
const problem = ref('')

onMounted(() => catalog.load().catch((error: Error) => (problem.value = error.message)))
const rosters = computed(() => byTitle(catalog.state.rosters))
const fieldsOf = (name: string): Field[] => catalog.roster(name)?.fields ?? []
const guessed = computed(() => guess(fieldsOf(people.value), fieldsOf(register.value)))
const value = (name: string) => chosen.value[name] ?? guessed.value[name] ?? ''
const NEEDED = computed(
  () =>
    [
      ['key', people.value, 'By which number the people are known'],
      ['number', register.value, 'The card’s number'],
      ['holder', register.value, 'Whose it is'],
      ['facility', register.value, 'Its facility, if there is one'],
    ] as const,
)
const ready = computed(
  () =>
    !!title.value.trim() &&
    !!people.value &&
    !!register.value &&
    ['key', 'number', 'holder'].every((name) => value(name)),
)

async function start(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    const named = { ...guessed.value, ...chosen.value }
    const document = begin(title.value.trim(), people.value, register.value, named)
    emit('begun', await beginDesign(document))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
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
    <form @submit.prevent="ready && start()">
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
          :options="rosters.filter((one) => one.value !== people)"
          label="Where the cards are kept"
          placeholder="a roster of cards"
        />
      </p>
      <p class="soft small">
        Each card is a record there, with a number that no other has. There is none yet?
        <RouterLink to="/openings/from-nothing">Begin a roster of cardholders</RouterLink>.
      </p>
      <template v-if="people && register">
        <p v-for="[name, roster, words] in NEEDED" :key="name" class="line">
          {{ words }}
          <ChooseOne
            :model-value="value(name)"
            :options="byTitle(fieldsOf(roster))"
            :label="words"
            placeholder="a field"
            @update:model-value="(field) => (chosen = { ...chosen, [name]: field ?? '' })"
          />
        </p>
      </template>
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
