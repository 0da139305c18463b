<script setup lang="ts">
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Field, Person } from '@/api/types'
import PersonTable from '@/components/people/PersonTable.vue'
import type { Marked } from '@/logic/people'
import { counted } from '@/logic/words'

/** One row beside the records that it may be, and what can be decided of it. */
defineProps<{
  person: Person
  fields: Field[]
  /** The keys of the roster, in words. */
  keys: string
  /** Lines that claim the same record and can give way. */
  rivals: number[]
  may: boolean
  marked: Marked
}>()
const emit = defineEmits<{
  choose: [record: number | null]
  keep: []
  ask: [kind: 'hold' | 'leave_out']
  leave: []
}>()
const all = defineModel<boolean>('all', { required: true })
</script>

<template>
  <div class="head">
    <h2>Who is line {{ person.line }}?</h2>
    <span class="soft">{{ person.name }} · {{ person.key || `no ${keys} in the file` }}</span
    ><span class="grow" />
    <label class="only"><input v-model="all" type="checkbox" /> all fields <KeyCap of="D" /></label>
  </div>
  <PersonTable :person="person" :fields="fields" :all="all" @choose="emit('choose', $event)" />
  <p v-if="person.more" class="soft">
    {{ counted(person.more, 'less likely record is', 'less likely records are') }} not shown.
  </p>
  <p v-if="person.rivals.length" class="flag">
    {{ person.rivals.map((one) => `Line ${one.line} (${one.name})`).join(', ') }} may be the same
    record: it can go to one of them only.
  </p>
  <p v-for="note in person.notes" :key="note" class="flag">{{ note }}</p>
  <div class="do">
    <button
      v-for="(one, place) in person.candidates.slice(0, 4)"
      :key="one.record"
      class="btn"
      :data-marked="marked === place || undefined"
      :class="{ main: marked === null ? place === 0 && person.record === null : marked === place }"
      :disabled="!may"
      @click="emit('choose', one.record)"
    >
      Is {{ place + 1 }}: {{ one.key }} <KeyCap :of="marked === place ? 'Enter' : place + 1" />
    </button>
    <button
      v-if="rivals.length"
      class="btn"
      :disabled="!may"
      :title="`Leaves line ${rivals.join(', ')} out, with that for a reason`"
      @click="emit('keep')"
    >
      One person: keep line {{ person.line }}
    </button>
    <button
      class="btn"
      :data-marked="marked === 'new' || undefined"
      :class="marked === 'new' ? 'main' : 'fir'"
      :disabled="!may"
      @click="emit('choose', null)"
    >
      Somebody new <KeyCap :of="marked === 'new' ? 'Enter' : 'N'" />
    </button>
    <button class="btn" :disabled="!may" @click="emit('ask', 'hold')">
      Hold with a reason <KeyCap of="H" />
    </button>
    <button class="btn" :disabled="!may" @click="emit('ask', 'leave_out')">
      Leave out <KeyCap of="L" />
    </button>
    <button v-if="person.state === 'chosen'" class="btn" :disabled="!may" @click="emit('leave')">
      Not decided by me
    </button>
    <span v-if="marked !== null" class="soft" role="status"
      >Marked: {{ marked === 'new' ? 'somebody new' : person.candidates[marked]?.name }}. Enter
      decides.</span
    >
    <span class="grow" /><span class="soft small"
      >bars: what each field says for it (right) or against (left)</span
    >
  </div>
</template>

<style scoped>
.head,
.do {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.head h2 {
  font-size: 17px;
}
.only {
  font-size: 13px;
  color: var(--ink2);
  white-space: nowrap;
}
.flag {
  margin-top: 12px;
}
.do {
  flex-wrap: wrap;
  margin-top: 16px;
}
</style>
