<script setup lang="ts">
import { computed, ref } from 'vue'
import { message } from 'ant-design-vue'
import { listPeople, type PeopleQuery } from '@/api/cards'
import { keepShortlist } from '@/api/shortlists'
import type { CardDesign, CardPerson } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { needWords } from '@/logic/design'
import { count } from '@/logic/words'

/** What can be done with all that are shown: make their cards, keep them to be asked. */
const props = defineProps<{ design: CardDesign; query: PeopleQuery; total: number }>()
const emit = defineEmits<{ make: [records: number[]]; photos: []; problem: [text: string] }>()

const MOST = 1000
const cards = useCards()
const busy = ref(false)
const isChosen = computed(() => !!props.query.shortlist || !!props.query.text)
const asks = computed(() => ['photo', 'unfit'].includes(props.query.need))

async function all(): Promise<CardPerson[]> {
  const people: CardPerson[] = []
  for (;;) {
    const query = { ...props.query, start: people.length, limit: MOST }
    const page = await listPeople(cards.name, query)
    people.push(...page.people)
    if (!page.people.length || people.length >= page.total) return people
  }
}
async function during(act: () => Promise<void>): Promise<void> {
  busy.value = true
  try {
    await act()
  } catch (error) {
    emit('problem', error instanceof Error ? error.message : String(error))
  } finally {
    busy.value = false
  }
}
const make = () =>
  during(async () => {
    const people = (await all()).filter((one) => ['make', 'anew'].includes(one.need))
    if (people.length)
      emit(
        'make',
        people.map((one) => one.record),
      )
    else emit('problem', 'Nobody of these needs a card that can be made now.')
  })
/** One shortlist in each roster: the people are asked with what rosters offer for that. */
const keep = () =>
  during(async () => {
    const people = await all()
    const day = new Date().toISOString().slice(0, 10)
    const title = `${props.design.title}: ${needWords(props.query.need)?.word ?? ''}, ${day}`
    for (const roster of new Set(props.design.faces.map((face) => face.roster))) {
      const faces = props.design.faces.filter((face) => face.roster === roster)
      const records = people
        .filter((one) => faces.some((face) => face.name === one.face))
        .map((one) => one.record)
      if (records.length) await keepShortlist(roster, { title, records, is_shared: true })
    }
    message.success(`Kept as the shortlist “${title}”: see Rosters.`)
  })
</script>

<template>
  <template v-if="design.may_change">
    <button v-if="asks && total" class="btn" :disabled="busy" @click="keep">
      Keep {{ total === 1 ? 'this one' : `these ${count(total)}` }} as a shortlist
    </button>
    <button v-if="isChosen && total" class="btn" :disabled="busy" @click="make">
      {{ total === 1 ? 'Make this card' : `Make cards of these ${count(total)}` }} …
    </button>
    <button class="btn" @click="emit('photos')">Bring photographs …</button>
  </template>
</template>
