<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { listCopies, orderCopy } from '@/api/copies'
import BringBack from '@/components/setup/BringBack.vue'
import type { Copies } from '@/api/types'
import { usePageTitle } from '@/composables/usePageTitle'
import { count, counted, momentInFull } from '@/logic/words'

/** Copies of everything: when they were made, whether they were tried, a new one by a click. */
const ASK_MS = 2_000
const STATES: Record<string, string> = {
  ordered: 'waits its turn',
  making: 'being made',
  trying: 'being tried',
  good: 'came back as it was',
  failed: 'failed',
}
const found = shallowRef<Copies | null>(null)
const problem = ref('')
const busy = ref(false)
const isUnderWay = computed(() =>
  found.value?.copies.some((one) => ['ordered', 'making', 'trying'].includes(one.state)),
)
const megabytes = (size: number) => `${(size / 1_000_000).toFixed(1)} MB`

async function load(): Promise<void> {
  try {
    found.value = await listCopies()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
async function order(): Promise<void> {
  busy.value = true
  try {
    await orderCopy()
    await load()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
const isReturning = computed(() => !!found.value?.back && !found.value.back.said)
/** The copy that somebody wants to bring back. */
const wanted = shallowRef<Copies['copies'][number] | null>(null)
useIntervalFn(() => (isUnderWay.value || isReturning.value) && void load(), ASK_MS)
async function ordered(): Promise<void> {
  wanted.value = null
  await load()
}
onMounted(load)
usePageTitle(() => 'Copies')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Copies</h1>
      <span v-if="found" class="soft" role="status">{{
        found.good_at ? `last good one ${momentInFull(found.good_at)}` : 'no good one yet'
      }}</span>
      <span class="grow" />
      <button class="btn main" :disabled="busy || isUnderWay" @click="order">
        {{ isUnderWay ? 'One is under way' : 'Make a copy now' }}
      </button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="found?.is_late" class="flag">
      <b>There is no good copy of the last two days.</b> If this machine broke, what was done since
      would be lost. Make one now.
    </p>
    <p v-if="found && !found.is_encrypted" class="flag">
      Copies are not encrypted: whoever has the file reads everything. Whoever runs the product sets
      <span class="mono">NEVEFIELD_COPY_KEY</span>.
    </p>
    <p v-if="found" class="soft">
      One is made each day after {{ found.hour }}:00 while people work, restored into a database of
      its own and compared, row by row. All of {{ counted(found.days, 'day') }} are kept, and one a
      week for {{ counted(found.weeks, 'week') }} before.
    </p>
    <p v-if="isReturning" class="flag" role="status">
      <b>{{ found?.back?.file_name }} is being brought back.</b> Nevefield begins anew when it is
      there, and you sign in again.
    </p>
    <p v-else-if="found?.back" class="flag stop" role="alert">
      <b>{{ found.back.file_name }} could not be brought back; nothing was altered.</b>
      {{ found.back.said }}
    </p>
    <table v-if="found?.copies.length" class="list">
      <thead>
        <tr>
          <th>Ordered</th>
          <th>By</th>
          <th>How it went</th>
          <th class="n">Rows</th>
          <th class="n">Size</th>
          <th>File</th>
          <th><span class="unseen">What can be done</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in found.copies" :key="one.id">
          <td>{{ momentInFull(one.ordered_at) }}</td>
          <td>{{ one.by || 'by itself' }}</td>
          <td :class="{ bad: one.state === 'failed' }">
            {{ STATES[one.state] ?? one.state
            }}<template v-if="one.said">: {{ one.said }}</template>
          </td>
          <td class="n">{{ one.rows ? count(one.rows) : '' }}</td>
          <td class="n">{{ one.size ? megabytes(one.size) : '' }}</td>
          <td class="mono">{{ one.file_name }}</td>
          <td>
            <button
              v-if="one.state === 'good'"
              class="plain"
              :disabled="isReturning"
              :aria-label="`Bring back … ${one.file_name}`"
              @click="wanted = one"
            >
              Bring back …
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <BringBack :copy="wanted" @close="wanted = null" @ordered="ordered" />
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
p {
  margin: 8px 0;
  max-width: 760px;
}
td {
  max-width: 420px;
}
table.list td.bad {
  white-space: normal;
}
</style>
