<script setup lang="ts">
import { computed } from 'vue'
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Holder, PersonInFull } from '@/api/types'
import { day } from '@/logic/words'

/** A person of ours beside those who hold a number and may be the same, field by field. */
const props = defineProps<{
  person: PersonInFull
  /** Whether fields that are the same are shown too. */
  withSame: boolean
  may: boolean
}>()
const chosen = defineModel<number>('chosen', { required: true })
const emit = defineEmits<{ choose: [number: string] }>()

const rows = computed(() => {
  const names = new Set(
    props.person.candidates.flatMap((holder) =>
      holder.values.filter((value) => props.withSame || !value.is_same).map((value) => value.field),
    ),
  )
  return (props.person.candidates[0]?.values ?? [])
    .filter((value) => names.has(value.field))
    .map((value) => ({ field: value.field, title: value.title, ours: value.ours }))
})
const cell = (holder: Holder, field: string) => holder.values.find((value) => value.field === field)
const word = (value: string) => (/^\d{4}-\d\d-\d\d$/.test(value) ? day(value) : value || '—')
</script>

<template>
  <div class="wide">
    <table class="hold">
      <thead>
        <tr>
          <th scope="col">differs in</th>
          <th scope="col">ours</th>
          <th
            v-for="(each, at) in person.candidates"
            :key="each.number"
            scope="col"
            :class="{ on: at === chosen }"
          >
            <button class="plain" @click="chosen = at">
              <b class="mono">{{ each.number }}</b><br /><span
                class="score"
                role="img"
                :aria-label="`${each.score} in 100`"
                ><i :style="{ width: `${each.score}%` }"
              /></span>
              {{ each.score }}
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.field">
          <th scope="row">{{ row.title }}</th>
          <td>{{ word(row.ours) }}</td>
          <td
            v-for="(each, at) in person.candidates"
            :key="each.number"
            :class="{ on: at === chosen, diff: !cell(each, row.field)?.is_same }"
          >
            {{ cell(each, row.field)?.is_same ? '=' : word(cell(each, row.field)?.theirs ?? '') }}
          </td>
        </tr>
        <tr>
          <th scope="row">Earlier</th>
          <td class="soft">—</td>
          <td
            v-for="(each, at) in person.candidates"
            :key="each.number"
            class="soft small"
            :class="{ on: at === chosen }"
          >
            {{ each.earlier }}
          </td>
        </tr>
        <tr v-if="may">
          <td />
          <td />
          <td
            v-for="(each, at) in person.candidates"
            :key="each.number"
            :class="{ on: at === chosen }"
          >
            <button
              class="btn"
              :data-marked="at === chosen || undefined"
              :class="{ main: at === chosen }"
              @click="emit('choose', each.number)"
            >
              Take<KeyCap v-if="at < 9" :of="at === chosen ? 'Enter' : at + 1" />
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}
.hold {
  border-collapse: collapse;
  margin-top: 6px;
}
.hold th {
  font-weight: 400;
  color: var(--ink2);
  text-align: left;
  padding: 6px 8px;
  white-space: nowrap;
  font-size: 13px;
  vertical-align: bottom;
}
.hold td {
  padding: 6px 8px;
  border-top: 1px solid var(--drift);
  min-width: 78px;
  max-width: 150px;
  vertical-align: top;
  overflow-wrap: anywhere;
}
.hold td:nth-child(2) {
  min-width: 132px;
}
.hold tbody th {
  border-top: 1px solid var(--drift);
  vertical-align: top;
  white-space: nowrap;
}
.hold thead th {
  border-bottom: 1px solid var(--ink);
  color: var(--ink);
}
.hold .on {
  background: var(--row-on);
  box-shadow:
    inset 2px 0 0 var(--fir),
    inset -2px 0 0 var(--fir);
}
.hold .diff {
  font-weight: 600;
}
.hold .diff:not(.on) {
  background: var(--ask-soft);
}
.score {
  display: inline-block;
  width: 40px;
  height: 8px;
  background: var(--drift);
  vertical-align: 1px;
}
.score i {
  display: block;
  height: 100%;
  background: var(--fir);
}
.hold .btn kbd {
  margin-left: 5px;
}
.hold .btn {
  padding: 3px 7px;
}
</style>
