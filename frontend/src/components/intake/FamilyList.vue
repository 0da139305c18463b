<script setup lang="ts">
import { computed } from 'vue'
import ChangeMark from './ChangeMark.vue'
import type { Changes, Tally } from '@/api/types'
import { count, counted } from '@/logic/words'

const props = defineProps<{ changes: Changes | null; selected: string; tally: Tally | undefined }>()
const emit = defineEmits<{ choose: [key: string] }>()

const PEOPLE = ['join', 'absent', 'beside']
const people = computed(
  () => props.changes?.families.filter((one) => PEOPLE.includes(one.key)) ?? [],
)
const fields = computed(
  () =>
    props.changes?.families
      .filter((one) => !PEOPLE.includes(one.key))
      .sort((a, b) => b.count - a.count) ?? [],
)
const most = computed(() => Math.max(1, ...(props.changes?.families.map((one) => one.count) ?? [])))
const waiting = computed(() =>
  props.tally ? props.tally.stopped + props.tally.waiting + props.tally.held : 0,
)
const width = (number: number) => `${Math.max(number ? 2 : 0, (number / most.value) * 100)}%`
const markOf = (key: string) =>
  key === 'join' ? 'join' : key === 'absent' || key === 'beside' ? 'absent' : 'change'
</script>

<template>
  <nav class="families" aria-label="Kinds of change">
    <p>People</p>
    <button
      v-for="one in people"
      :key="one.key"
      class="plain family"
      :class="{ on: one.key === selected }"
      :aria-pressed="one.key === selected"
      @click="emit('choose', one.key)"
    >
      <ChangeMark :kind="markOf(one.key)" /><span class="name">{{ one.title }}</span
      ><b>{{ count(one.count) }}</b
      ><span class="bar"><i :class="one.key" :style="{ width: width(one.count) }" /></span>
    </button>
    <p>
      Fields that change<template v-if="changes"
        >, in {{ count(changes.changed) }}
        {{ changes.changed === 1 ? 'record' : 'records' }}</template
      >
    </p>
    <button
      v-for="one in fields"
      :key="one.key"
      class="plain family"
      :class="{ on: one.key === selected }"
      :aria-pressed="one.key === selected"
      @click="emit('choose', one.key)"
    >
      <ChangeMark kind="change" /><span class="name"
        >{{ one.title
        }}<span v-if="one.taken_away" class="bad" :title="`${one.taken_away} taken away`">
          −{{ one.taken_away }}</span
        ><span
          v-if="one.kept_blank"
          class="soft"
          :title="`${counted(one.kept_blank, 'row has', 'rows have')} nothing here; the roster’s value stays`"
        >
          · {{ count(one.kept_blank) }} empty</span
        ></span
      ><b>{{ count(one.count) }}</b
      ><span class="bar"><i class="change" :style="{ width: width(one.count) }" /></span>
    </button>
    <p v-if="changes && !fields.length" class="none">
      none: no record of the roster gets another value
    </p>
    <template v-if="changes?.followed.length">
      <p>Follows from the placement rules</p>
      <button
        v-for="one in changes.followed"
        :key="one.field"
        class="plain family"
        :class="{ on: one.field === selected }"
        @click="emit('choose', one.field)"
      >
        <ChangeMark kind="change" /><span class="name">{{ one.title }}</span
        ><b>{{ count(one.count) }}</b
        ><span />
      </button>
    </template>
    <div v-if="waiting" class="flag">
      <b>{{ counted(waiting, 'row is', 'rows are') }} not in these numbers:</b> stopped, waiting or
      held. What is settled later can be applied later.
    </div>
  </nav>
</template>

<style scoped>
.families {
  width: 286px;
  flex: none;
  padding: 12px 10px 12px 14px;
  overflow-y: auto;
}
p {
  color: var(--ink2);
  font-size: 13.5px;
  padding: 0 0 8px;
}
p:not(:first-child) {
  padding-top: 16px;
}
.family {
  display: grid;
  grid-template-columns: 18px 1fr 44px 76px;
  align-items: center;
  width: 100%;
  height: 30px;
  border-bottom: 1px solid var(--line);
  position: relative;
}
.family b {
  text-align: right;
  padding-right: 8px;
}
.family.on {
  background: var(--snow);
  box-shadow: inset 3px 0 0 var(--ink);
  padding-left: 6px;
  grid-template-columns: 18px 1fr 44px 70px;
}
.family:hover {
  background: var(--snow);
}
.bar {
  height: 8px;
  background: var(--drift);
}
.bar i {
  display: block;
  height: 8px;
  background: var(--changed);
}
.bar i.join {
  background: var(--new);
}
.bar i.absent {
  background: var(--paper);
  border: 1px solid var(--absent);
}
.none {
  padding-top: 0 !important;
  font-size: 13px;
}
.flag {
  margin-top: 16px;
}
</style>
