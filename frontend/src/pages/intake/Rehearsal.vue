<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { ofPairs } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { getRehearsal } from '@/api/intakes'
import type { Rehearsal, RehearsedRow } from '@/api/types'
import { useIntake } from '@/composables/useIntake'
import { counted, count, show } from '@/logic/words'

type Which = 'five' | 'sample' | 'all'
const PAGE = 100
const CHOICES = ofPairs<Which>([
  ['five', 'the first five rows'],
  ['sample', 'one row for every code and cause'],
  ['all', 'all rows'],
])
const WORDS: Record<string, string> = {
  new: 'joins',
  changed: 'changes',
  same: 'stays the same',
  waiting: 'needs approval',
  stopped: 'is stopped',
  held: 'is held',
  left_out: 'is left out',
}

const { id, revision } = useIntake()
const which = ref<Which>('five')
const found = shallowRef<Rehearsal | null>(null)
const rows = shallowRef<RehearsedRow[]>([])
const problem = ref('')
const said = computed(() =>
  Object.entries(found.value?.counts ?? {})
    .map(([name, many]) => `${count(many)} ${name.replace('_', ' ')}`)
    .join(', '),
)

async function load(more = false): Promise<void> {
  try {
    const answer = await getRehearsal(id, which.value, more ? rows.value.length : 0, PAGE)
    found.value = answer
    rows.value = more ? [...rows.value, ...answer.rows] : answer.rows
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}

watch([which, revision], () => void load())
onMounted(() => void load())
</script>

<template>
  <div class="page">
    <p class="sentence">
      Rehearsed with
      <ChooseOne v-model="which" plain :options="CHOICES" label="Which rows are rehearsed" />:
      {{ found ? `${counted(found.total, 'row')}, ${said}.` : 'working it out …' }} Nothing of it is
      stored in the roster.
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <ul v-if="rows.length" class="rows">
      <li v-for="row in rows" :key="row.line">
        <div class="who">
          <span class="soft">line {{ row.line }}</span>
          <span class="swatch" :class="`l-${row.outcome}`" />
          <b>{{ row.name || row.key || 'nobody' }}</b> <span class="mono soft">{{ row.key }}</span>
          <span>{{ WORDS[row.outcome] }}</span>
        </div>
        <p v-if="row.shows.length" class="shows">shows {{ row.shows.join(' · ') }}</p>
        <p v-if="row.said">{{ row.said }}</p>
        <dl v-if="row.changes.length">
          <div v-for="one in row.changes" :key="one.field">
            <dt>{{ one.title }}</dt>
            <dd>
              <template v-if="one.old !== null"
                ><span class="was">{{ show(one.old) }}</span
                ><span class="arrow">→</span></template
              ><span class="will">{{ one.new === null ? 'nothing' : show(one.new) }}</span>
            </dd>
          </div>
        </dl>
      </li>
    </ul>
    <p v-if="found && rows.length < found.total" class="more">
      <button class="btn" @click="load(true)">
        Show {{ Math.min(PAGE, found.total - rows.length) }} more of {{ count(found.total) }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 12px 16px 24px;
}
.sentence {
  font-size: 15px;
  line-height: 30px;
}
select {
  font: inherit;
  color: var(--fir);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--fir);
  font-weight: 600;
  cursor: pointer;
}
select option {
  background: var(--paper);
  color: var(--ink);
}
.rows li {
  background: var(--snow);
  border-bottom: 1px solid var(--drift);
  padding: 8px 14px;
}
.who {
  display: flex;
  gap: 10px;
  align-items: center;
}
.swatch {
  width: 14px;
  height: 14px;
  flex: none;
}
.shows {
  color: var(--ink2);
  font-size: 13px;
}
dl {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  margin-top: 4px;
  font-size: 13px;
}
dl div {
  display: flex;
  gap: 6px;
}
dt {
  color: var(--ink2);
}
.more {
  text-align: center;
  padding: 12px;
}
</style>
