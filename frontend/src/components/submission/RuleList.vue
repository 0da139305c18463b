<script setup lang="ts">
import { computed } from 'vue'
import type { RuleHere } from '@/api/types'
import { count, counted } from '@/logic/words'

const props = defineProps<{
  rules: RuleHere[]
  records: number
  rule: string
  record: number | null
  empty: string
}>()
const emit = defineEmits<{ choose: [rule: string, record: number] }>()

const roots = computed(() => props.rules.filter((one) => !one.follows))
const folded = computed(() => props.rules.filter((one) => one.follows))
</script>

<template>
  <div class="rules" role="region" aria-label="Rules">
    <p class="soft group">{{ counted(records, 'record') }}, {{ counted(roots.length, 'rule') }}</p>
    <div v-for="one in roots" :key="one.rule" class="ru" :class="{ on: one.rule === rule }">
      <button
        class="plain head"
        :aria-expanded="one.rule === rule"
        @click="emit('choose', one.rule, one.records[0]!)"
      >
        <b>{{ one.rule }} {{ one.title }}</b
        ><span class="n">{{ count(one.records.length) }}</span>
      </button>
      <ul v-if="one.rule === rule">
        <li v-for="each in one.people" :key="each.record">
          <button
            class="plain who"
            :class="{ on: each.record === record }"
            :aria-current="each.record === record"
            @click="emit('choose', one.rule, each.record)"
          >
            <span class="one-line">{{ each.name }}</span><span class="mono">{{ each.key }}</span>
          </button>
        </li>
        <li v-if="one.records.length > one.people.length" class="soft small">
          and {{ count(one.records.length - one.people.length) }} more
        </li>
      </ul>
    </div>
    <div v-for="one in folded" :key="one.rule" class="ru soft">
      <b class="light">{{ one.rule }} {{ one.title }}</b
      ><span class="n light">{{ count(one.records.length) }}</span>
      <p>follows from the others, settles by itself</p>
    </div>
    <p v-if="!roots.length" class="soft done">{{ empty }}</p>
  </div>
</template>

<style scoped>
.rules {
  width: 300px;
  flex: none;
  padding: 10px 0 12px 12px;
  overflow-y: auto;
}
.group {
  font-size: 13px;
  margin-bottom: 6px;
}
.ru {
  padding: 7px 10px;
  background: var(--snow);
  border: 1px solid var(--line);
  margin-bottom: 6px;
  position: relative;
}
.ru.on {
  border-color: var(--ink);
  border-right-color: var(--snow);
  margin-right: -1px;
  z-index: 2;
}
.head {
  display: flex;
  width: 100%;
  gap: 8px;
}
.head b {
  flex: 1;
  font-weight: 600;
}
.n {
  float: right;
  font-weight: 600;
}
.light {
  font-weight: 400;
}
.ru p {
  font-size: 13px;
  line-height: 17px;
}
ul {
  margin-top: 6px;
  font-size: 13px;
}
.who {
  display: flex;
  width: 100%;
  gap: 8px;
  justify-content: space-between;
  padding: 2px 6px;
}
.who.on {
  background: var(--fir-soft);
}
li.small {
  padding: 2px 6px;
}
.done {
  padding: 8px 0;
}
</style>
