<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import TermLine from './TermLine.vue'
import { listLapses, setTerm } from '@/api/keeping'
import type { Lapses } from '@/api/types'

/** For how long things are kept, and what goes next; what nobody set is kept for ever. */
const found = shallowRef<Lapses | null>(null)
const problem = ref('')

async function act(work: () => Promise<Lapses>): Promise<void> {
  try {
    found.value = await work()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
onMounted(() => act(listLapses))
</script>

<template>
  <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
  <template v-if="found">
    <h2>For how long things are kept</h2>
    <p class="soft">
      What is older goes at night, after {{ found.hour }}:00. Copies of everything hold it until
      they are deleted by their own time.
    </p>
    <table class="list">
      <thead>
        <tr>
          <th>What</th>
          <th>Kept for</th>
          <th>What goes</th>
          <th>Set by</th>
        </tr>
      </thead>
      <tbody>
        <TermLine
          v-for="one in found.lapses"
          :key="one.kind"
          :lapse="one"
          @keep="(days: number | null) => act(() => setTerm(one.kind, days))"
        />
      </tbody>
    </table>
  </template>
</template>

<style scoped src="../../pages/setup/page.css"></style>
<style scoped>
h2 {
  font-size: 15px;
  margin: 4px 0;
}
p {
  margin: 6px 0;
  max-width: 760px;
}
table {
  max-width: 1060px;
  margin-bottom: 22px;
}
</style>
