<script setup lang="ts">
import { computed } from 'vue'
import type { Opening } from '@/api/types'
import { checkedWords } from '@/logic/opening'
import { count, counted, listed } from '@/logic/words'

/** What the file would do, what such rosters have as a rule, and what is checked from the first day. */
const props = defineProps<{ opening: Opening; working: boolean }>()
const emit = defineEmits<{
  people: [name: string, on: boolean]
  order: [first: string, last: string, on: boolean]
}>()

const stops = computed(() => props.opening.causes.filter((one) => one.weight === 'stop'))
const asks = computed(() => props.opening.causes.filter((one) => one.weight === 'ask'))
const titleOf = (heading: string) =>
  props.opening.columns.find((one) => one.heading === heading)?.title || heading
</script>

<template>
  <aside class="side" aria-label="What this file would do">
    <h2>What this file would do</h2>
    <p class="soft">
      Nothing is kept until the roster is opened. Afterwards the file is its first intake.
    </p>
    <dl :class="{ stale: working }" aria-live="polite">
      <div>
        <dt>people join</dt>
        <dd>{{ count(opening.tally.new) }}</dd>
      </div>
      <div v-if="opening.tally.stopped">
        <dt>rows stopped, {{ counted(stops.length, 'cause') }}</dt>
        <dd class="bad">{{ count(opening.tally.stopped) }}</dd>
      </div>
      <div v-if="opening.tally.waiting">
        <dt>rows to look at, {{ counted(asks.length, 'cause') }}</dt>
        <dd>{{ count(opening.tally.waiting) }}</dd>
      </div>
      <div v-if="opening.tally.left_out">
        <dt>rows left out</dt>
        <dd>{{ count(opening.tally.left_out) }}</dd>
      </div>
      <div class="sum">
        <dt>rows read</dt>
        <dd>{{ count(opening.tally.read) }}</dd>
      </div>
    </dl>
    <ul v-if="opening.causes.length" class="causes small">
      <li v-for="cause in opening.causes" :key="cause.title">
        <span>{{ cause.title }}</span><b>{{ count(cause.rows) }}</b>
      </li>
    </ul>

    <h2>Begin with what such rosters have</h2>
    <p class="soft">
      Fields that are common for one kind of people, with their checks. Each can be altered later.
    </p>
    <ul>
      <li v-for="kind in opening.people" :key="kind.name">
        <span>{{ kind.title }}, {{ kind.words }}</span>
        <button
          v-if="kind.is_added"
          class="link"
          :aria-label="`Take out the fields of ${kind.title}`"
          @click="emit('people', kind.name, false)"
        >
          take out
        </button>
        <button
          v-else-if="kind.fields.length"
          class="link"
          :title="listed(kind.fields.map((one) => one.title))"
          :aria-label="`Add ${counted(kind.fields.length, 'field')} of ${kind.title}`"
          @click="emit('people', kind.name, true)"
        >
          add {{ kind.fields.length }}
        </button>
        <span v-else class="soft">has all</span>
      </li>
    </ul>

    <h2>Checked from the first day</h2>
    <p class="soft">{{ checkedWords(opening) }}</p>
    <ul class="small">
      <li v-for="one in opening.orders" :key="one.first + one.last">
        <label
          ><input
            type="checkbox"
            :checked="one.is_checked"
            @change="
              emit('order', one.first, one.last, ($event.target as HTMLInputElement).checked)
            "
          />
          {{ titleOf(one.first) }} is never after {{ titleOf(one.last) }}</label
        >
      </li>
      <template v-for="check in opening.checks" :key="check.check + check.fields.join()">
        <li v-if="check.check !== 'order'">
          <span
            >{{ listed(check.fields) }}: {{ check.holds.split(';')[0]?.replaceAll('`', '') }}</span
          >
        </li>
      </template>
    </ul>
  </aside>
</template>

<style scoped>
.side {
  flex: 0 0 304px;
  border-left: 1px solid var(--ink);
  padding: 16px;
  overflow: auto;
  font-size: 13.5px;
}
h2:not(:first-child) {
  margin-top: 18px;
}
p {
  margin: 4px 0 10px;
}
dl div,
li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-bottom: 1px solid var(--drift);
}
dd {
  font-weight: 600;
  text-align: right;
}
.sum {
  border-bottom: 2px solid var(--ink);
}
.stale {
  opacity: 0.55;
}
.causes {
  margin-top: 6px;
}
.link {
  white-space: nowrap;
}
li > span {
  overflow-wrap: anywhere;
}
</style>
