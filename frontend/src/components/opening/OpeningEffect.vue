<script setup lang="ts">
import { computed } from 'vue'
import UsualFields from './UsualFields.vue'
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

    <UsualFields :people="opening.people" @people="(name, on) => emit('people', name, on)" />

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

<style scoped src="../setup/panel.css"></style>
<style scoped>
.side {
  flex-basis: 304px;
  font-size: 13.5px;
}
p {
  margin: 4px 0 10px;
}
dd {
  font-weight: 600;
}
.side .sum {
  border-bottom: 2px solid var(--ink);
}
.stale {
  opacity: 0.55;
}
</style>
