<script setup lang="ts">
import { computed, ref } from 'vue'
import type { FieldHere, PersonInFull } from '@/api/types'
import { counted, day, moment } from '@/logic/words'

const props = defineProps<{ person: PersonInFull; authority: string; canLook?: boolean }>()
const emit = defineEmits<{ look: [] }>()

const all = ref(false)
const front = computed(() => props.person.fields.filter((one) => one.is_read))
const rest = computed(() => props.person.fields.filter((one) => !one.is_read))
const shown = computed(() => (all.value || !front.value.length ? props.person.fields : front.value))
const differing = computed(() => rest.value.filter((one) => !one.is_same).length)
const word = (value: string | null) =>
  value && /^\d{4}-\d\d-\d\d$/.test(value) ? day(value) : value
const isBad = (one: FieldHere) => props.person.has_held && !one.is_same
</script>

<template>
  <div class="cmp" role="table" :aria-label="`${person.name}, ours and theirs`">
    <div role="row" class="row hd">
      <span role="columnheader">field</span
      ><span role="columnheader">{{
        person.round ? `ours, as sent in round ${person.round}` : 'ours, as it would be sent'
      }}</span
      ><span role="columnheader" class="eq" /><span role="columnheader"
        ><template v-if="person.has_held"
          >{{ authority }}, as held
          {{ person.answered_at ? moment(person.answered_at, new Date()) : 'now' }}
          <button v-if="canLook && person.answered_at" class="link" @click="emit('look')">
            Look it up now
          </button></template
        ><template v-else>no record is held</template></span
      ><span role="columnheader">last changed here</span>
    </div>
    <div v-for="one in shown" :key="one.field" role="row" class="row">
      <span role="rowheader" class="k">{{ one.title }}</span>
      <span role="cell" :class="{ diff: isBad(one) }"
        ><b v-if="one.ours_label">{{ one.ours }}</b
        ><template v-else>{{ word(one.ours) || '—' }}</template> {{ one.ours_label }}</span
      >
      <span role="cell" class="eq" :class="{ ne: isBad(one) }"
        ><template v-if="one.theirs !== null"
          ><span aria-hidden="true">{{ one.is_same ? '=' : '≠' }}</span
          ><span class="unseen">{{ one.is_same ? 'the same' : 'another' }}</span></template
        ></span
      >
      <span role="cell" :class="{ diff: isBad(one) }"
        ><template v-if="one.theirs !== null"
          ><b v-if="one.theirs_label">{{ one.theirs }}</b
          ><template v-else>{{
            word(one.theirs) || (one.field.endsWith('_TO') ? 'open' : '—')
          }}</template>
          {{ one.theirs_label }}</template
        ></span
      >
      <span role="cell" class="soft small from"
        ><RouterLink
          v-if="one.change_set"
          :to="`/receipts/${one.change_set}`"
          :title="one.changed"
          >{{ one.changed }}</RouterLink
        ><template v-else>{{ one.changed }}</template></span
      >
    </div>
    <div v-if="front.length && rest.length" role="row" class="row">
      <span role="rowheader" class="k soft">{{ counted(rest.length, 'more field') }}</span><span
        role="cell"
        class="soft wide"
        ><template v-if="person.has_held"
          >{{ rest.length - differing }} the same, {{ differing }}
          {{ differing === 1 ? 'differs but is' : 'differ but are' }} not read</template
        >
        <button class="link" @click="all = !all">
          {{ all ? 'Only what the rule reads' : 'Show all fields' }}
        </button></span
      >
    </div>
  </div>
</template>

<style scoped>
.cmp {
  margin-top: 12px;
}
.row {
  display: grid;
  grid-template-columns: 130px 1fr 40px 1fr 170px;
  border-bottom: 1px solid var(--drift);
}
.row > span {
  padding: 6px 8px;
  min-height: 33px;
  overflow-wrap: anywhere;
}
.hd > span:first-child {
  padding-left: 0;
}
.hd {
  color: var(--ink2);
  font-size: 13px;
  border-bottom-color: var(--ink);
}
.k {
  color: var(--ink2);
  padding-left: 0 !important;
}
.eq {
  text-align: center;
  color: var(--ink3);
  padding: 6px 0 !important;
}
.ne {
  color: var(--stopped-ink);
  font-weight: 600;
}
.diff {
  background: var(--stop-soft);
}
.from a {
  color: var(--ink2);
}
.from {
  display: -webkit-box;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  -webkit-box-orient: vertical;
  overflow: hidden;
  padding-bottom: 0 !important;
}
.wide {
  grid-column: 2 / -1;
}
</style>
