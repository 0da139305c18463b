<script setup lang="ts">
import type { PeopleGroup } from '@/logic/people'

/** The rows that must be told apart, and those that were, each with what it was. */
defineProps<{ groups: PeopleGroup[]; line: number }>()
const emit = defineEmits<{ pick: [line: number] }>()
</script>

<template>
  <nav class="queue" aria-label="Rows to tell apart">
    <template v-for="group in groups" :key="group.title">
      <h3>{{ group.title }}</h3>
      <button
        v-for="row in group.people"
        :key="row.line"
        class="item"
        :class="{ on: row.line === line, done: row.state !== 'possible' }"
        :aria-current="row.line === line ? 'true' : undefined"
        @click="emit('pick', row.line)"
      >
        <b>{{ row.name || row.key }}</b>
        <span
          >line {{ row.line
          }}<template v-if="row.rivals.length">
            and {{ row.rivals.map((other) => other.line).join(', ') }}</template
          ><template v-if="row.state === 'chosen'"> = {{ row.record || 'somebody new' }}</template
          ><template v-else> · {{ Math.round(row.score) }}</template></span
        >
      </button>
    </template>
    <p v-if="!groups.length" class="soft none"><slot /></p>
  </nav>
</template>

<style scoped>
.queue {
  width: 231px;
  flex: none;
  padding: 2px 0 12px 12px;
  overflow-y: auto;
}
h3 {
  font-size: 13px;
  font-weight: 400;
  color: var(--ink2);
  margin: 8px 0 6px;
}
.item {
  display: block;
  width: 100%;
  text-align: left;
  padding: 6px 10px;
  margin-bottom: 5px;
  background: var(--snow);
  border: 1px solid var(--line);
  color: var(--ink);
  line-height: 18px;
  cursor: pointer;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
.item span {
  display: block;
  color: var(--ink2);
  font-size: 13px;
}
.item.on {
  border-color: var(--ink);
  border-right-color: var(--snow);
  box-shadow: inset 3px 0 0 var(--fir);
}
.item.done b {
  font-weight: 400;
}
.none {
  padding-right: 12px;
}
</style>
