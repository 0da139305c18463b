<script setup lang="ts">
import { ref, watch } from 'vue'
import { useTimeoutFn } from '@vueuse/core'
import { AutoComplete } from 'ant-design-vue'
import { listPeople } from '@/api/cards'
import type { CardPerson } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { useInputName } from '@/composables/useInputName'

/** Whose card is shown: found by name, number or card. */
const emit = defineEmits<{ chosen: [person: CardPerson] }>()

const MOST = 8
const REST_MS = 200
const LABEL = 'Show somebody’s card'
const cards = useCards()
const text = ref('')
const people = ref<CardPerson[]>([])
const { name } = useInputName('finder', () => LABEL)
let latest = 0

const { start } = useTimeoutFn(
  async () => {
    const mine = ++latest
    const query = { need: '' as const, text: text.value, start: 0, limit: MOST }
    // who is not found is typed again
    const found = await listPeople(cards.name, query).catch(() => null)
    if (mine === latest && found) people.value = found.people
  },
  REST_MS,
  { immediate: false },
)
watch(text, () => start())
function choose(record: unknown): void {
  const person = people.value.find((one) => String(one.record) === record)
  if (person) emit('chosen', person)
  text.value = ''
}
</script>

<template>
  <AutoComplete
    ref="finder"
    v-model:value="text"
    class="finder"
    :options="people.map((one) => ({ value: String(one.record), label: `${one.name} ${one.key}` }))"
    placeholder="Show somebody’s"
    :dropdown-match-select-width="false"
    @select="choose"
    @dropdown-visible-change="name"
  >
    <template #option="option">{{ option.label }}</template>
  </AutoComplete>
</template>

<style scoped>
.finder {
  width: 100%;
}
</style>
