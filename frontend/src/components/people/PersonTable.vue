<script setup lang="ts">
import { computed } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import EvidenceBar from '@/components/people/EvidenceBar.vue'
import type { Field, Person, PersonField } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { day, show } from '@/logic/words'

const props = defineProps<{ person: Person; fields: Field[]; all: boolean }>()
const emit = defineEmits<{ choose: [record: number] }>()
const catalog = useCatalog()

const differs = (one: PersonField) => one.cells.some((cell) => !cell.same)
/** Those that differ first; what is the same everywhere last, or not at all. */
const shown = computed(() => {
  const told = props.person.fields.filter(
    (one) => props.all || one.tells || (one.value !== null && differs(one)),
  )
  return [
    ...told.filter((one) => one.tells && differs(one)),
    ...told.filter((one) => one.tells && !differs(one)),
    ...told.filter((one) => !one.tells),
  ]
})
function say(one: PersonField, value: unknown): string {
  const field = props.fields.find((other) => other.name === one.field)
  if (value === null || value === undefined) return ''
  if (typeof value === 'string' && field?.code_list)
    return [value, catalog.label(field.code_list, value)].filter(Boolean).join(' ')
  return show(value as string, field?.type)
}
const isMono = (name: string) => props.fields.find((one) => one.name === name)?.mono
const since = (text: string) => {
  const [at, ...rest] = text.split(', ')
  return at ? `${day(at)}, ${rest.join(', ')}` : ''
}
</script>

<template>
  <table class="who" :style="{ '--n': person.candidates.length }">
    <thead>
      <tr>
        <th class="k" scope="col"><span class="unseen">field</span></th>
        <th class="in" scope="col">in the file</th>
        <th
          v-for="(one, place) in person.candidates"
          :key="one.record"
          scope="col"
          :class="{ on: one.record === person.record }"
        >
          <button
            class="plain top"
            :aria-label="`It is ${one.name}`"
            @click="emit('choose', one.record)"
          >
            <KeyCap :of="place + 1" /> {{ Math.round(one.score)
            }}<b>{{ one.name.replace(` · ${one.key}`, '') }}</b
            ><small class="mono">{{ one.key }}</small>
          </button>
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in shown" :key="one.field" :class="{ rest: !one.tells }">
        <th class="k" scope="row">{{ one.title }}</th>
        <td class="in" :class="{ mono: isMono(one.field) }">{{ say(one, one.value) || '–' }}</td>
        <td
          v-for="(cell, place) in one.cells"
          :key="place"
          :class="{
            dif: !cell.same && cell.value !== null && one.value !== null,
            on: person.candidates[place]?.record === person.record,
          }"
        >
          <div class="says">
            <EvidenceBar :bits="cell.bits" />
            <span
              ><span :class="{ mono: isMono(one.field) }">{{ say(one, cell.value) }}</span
              ><span v-if="cell.value === null" class="soft">none</span
              ><span
                v-if="cell.word && cell.word !== 'same' && cell.word !== 'differs'"
                class="word"
              >
                {{ cell.word }}</span
              ></span
            >
          </div>
        </td>
      </tr>
      <tr>
        <th class="k" scope="row">Known since</th>
        <td class="in">–</td>
        <td
          v-for="one in person.candidates"
          :key="one.record"
          class="since"
          :class="{ on: one.record === person.record }"
        >
          <RouterLink :to="`/records/${one.record}`">{{ since(one.since) }}</RouterLink>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.who {
  width: min(100%, calc(280px + var(--n) * 310px));
  border-collapse: collapse;
  table-layout: fixed;
  margin-top: 8px;
  font-size: 13.5px;
}
th,
td {
  padding: 5px 8px;
  border-bottom: 1px solid var(--drift);
  height: 34px;
  line-height: 19px;
  position: relative;
  text-align: left;
  font-weight: 400;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.k {
  width: 104px;
  padding-left: 0;
  color: var(--ink2);
}
.in {
  width: 176px;
  background: var(--shade);
  border-left: 1px solid var(--ink);
  border-right: 1px solid var(--ink);
  font-weight: 600;
}
thead .in {
  border-top: 1px solid var(--ink);
}
.on {
  background: var(--fir-soft);
}
.top {
  font-size: 20px;
  font-weight: 600;
  line-height: 24px;
  color: var(--ink);
}
.top b {
  display: block;
  font-size: 13.5px;
  line-height: 18px;
}
.top small {
  display: block;
  font-size: 12.5px;
  font-weight: 400;
  color: var(--ink2);
  line-height: 16px;
}
.says {
  display: flex;
  align-items: baseline;
}
.dif {
  color: var(--stopped-ink);
}
.word {
  margin-left: 6px;
  color: var(--ink2);
  font-size: 12.5px;
}
.since a {
  color: var(--ink2);
  text-decoration: none;
}
.since a:hover {
  text-decoration: underline;
}
.rest td,
.rest th {
  height: 28px;
  padding-top: 3px;
  padding-bottom: 3px;
}
</style>
