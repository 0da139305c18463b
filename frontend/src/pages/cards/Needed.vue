<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import NeededActs from '@/components/cards/NeededActs.vue'
import NeededFind from '@/components/cards/NeededFind.vue'
import NeededTable from '@/components/cards/NeededTable.vue'
import MakeDialog from '@/components/cards/MakeDialog.vue'
import PersonCard from '@/components/cards/PersonCard.vue'
import PhotosDialog from '@/components/cards/PhotosDialog.vue'
import { listPeople, type PeopleQuery } from '@/api/cards'
import type { CardDesign, CardPeople, CardPerson } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { needWords } from '@/logic/design'
import { count, counted } from '@/logic/words'

const PAGE = 200
type Need = PeopleQuery['need']

defineProps<{ design: CardDesign }>()
const cards = useCards()
const route = useRoute()
const router = useRouter()
const found = ref<CardPeople | null>(null)
const people = ref<CardPerson[]>([])
const text = ref(String(route.query.q ?? ''))
const chosen = ref<CardPerson | null>(null)
const making = ref<{ records: number[]; anew: boolean } | null>(null)
const bringing = ref(false)
const problem = ref('')
const need = computed(() => String(route.query.need ?? '') as Need)
const shortlist = ref(0)
const query = computed(() => ({
  need: need.value,
  text: text.value,
  ...(shortlist.value ? { shortlist: shortlist.value } : {}),
  start: 0,
  limit: PAGE,
}))
let latest = 0

async function load(more = false): Promise<void> {
  const mine = ++latest
  const start = more ? people.value.length : 0
  try {
    const page = await listPeople(cards.name, { ...query.value, start })
    if (mine !== latest) return
    found.value = page
    people.value = more ? [...people.value, ...page.people] : page.people
    chosen.value =
      people.value.find((one) => one.record === chosen.value?.record) ?? people.value[0] ?? null
    problem.value = ''
  } catch (error) {
    if (mine !== latest) return
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
const setNeed = (key: string | null) => void router.replace({ query: { need: key || undefined } })
async function made(run: number): Promise<void> {
  making.value = null
  await router.push({ path: `/cards/${cards.name}/runs`, query: { run } })
}
watch([need, text, shortlist, () => cards.turn.value], () => void load(), { immediate: true })
</script>

<template>
  <div class="page">
    <div class="main">
      <div class="find">
        <NeededFind
          v-model:text="text"
          v-model:shortlist="shortlist"
          :design="design"
          :need="need"
          @need="setNeed"
        />
        <span class="soft" role="status">{{
          found
            ? counted(
                found.total,
                need === 'take in' ? 'card' : 'person',
                need === 'take in' ? 'cards' : 'people',
              )
            : ''
        }}</span>
        <span class="grow" />
        <NeededActs
          :design="design"
          :query="query"
          :total="found?.total ?? 0"
          @make="(records) => (making = { records, anew: false })"
          @photos="bringing = true"
          @problem="problem = $event"
        />
      </div>
      <ul v-if="found?.causes.length && need !== 'has' && need !== 'take in'" class="causes">
        <li v-for="cause in found.causes.slice(0, 6)" :key="cause.need + cause.text">
          <button class="link" @click="setNeed(cause.need)">
            <i class="dot" :class="needWords(cause.need)?.look" />{{ count(cause.people) }}
            {{ needWords(cause.need)?.word }}</button
          ><span class="soft" :title="cause.text">{{ cause.text }}</span>
        </li>
      </ul>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <div class="scroll">
        <NeededTable v-if="people.length" v-model:chosen="chosen" :people="people" />
        <div v-else-if="found" class="empty">
          <p v-if="text">Nobody is found by “{{ text }}” here.</p>
          <p v-else-if="need === 'has'">Nobody has a card yet.</p>
          <p v-else-if="need">Nobody stands there. ✓</p>
          <p v-else>The rosters of this design have nobody who gets a card.</p>
        </div>
        <p v-else-if="!problem" class="soft" role="status">Looking who needs one …</p>
        <button v-if="found && people.length < found.total" class="btn more" @click="load(true)">
          {{ count(found.total - people.length) }} more
        </button>
      </div>
    </div>
    <PersonCard
      v-if="chosen"
      :key="`${chosen.record} ${chosen.cards[0]?.card}`"
      :design="design"
      :person="chosen"
      @make="(anew) => (making = { records: [chosen!.record], anew })"
      @photos="bringing = true"
    />
    <MakeDialog
      v-if="making"
      :design="design"
      :records="making.records"
      :anew="making.anew"
      @close="making = null"
      @made="made"
    />
    <PhotosDialog v-if="bringing" @close="bringing = false" />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  display: flex;
  min-height: 0;
  background: var(--snow);
}
.main {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 10px 16px 0;
}
.find {
  display: flex;
  gap: 8px;
  align-items: center;
}
.causes {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(320px, 100%), 1fr));
  gap: 2px 18px;
  margin: 8px 0 2px;
}
.causes li {
  display: flex;
  gap: 8px;
  white-space: nowrap;
}
.causes .link {
  min-height: 24px;
}
.causes .soft {
  overflow: hidden;
  text-overflow: ellipsis;
}
.dot {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  min-height: 0;
  padding: 0;
}
.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
  margin-top: 8px;
}
.more {
  margin: 8px 0 16px;
}
</style>
