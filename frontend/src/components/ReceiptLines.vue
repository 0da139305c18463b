<script setup lang="ts">
import { ref, shallowRef, watch } from 'vue'
import { getReceiptLines } from '@/api/rosters'
import type { Outcome, ReceiptLines } from '@/api/types'
import { WORDS } from '@/logic/layers'
import { counted } from '@/logic/words'

const props = defineProps<{ receipt: number; intake: number; roster: string; outcome: Outcome }>()
const emit = defineEmits<{ close: [] }>()
const found = shallowRef<ReceiptLines | null>(null)
const problem = ref('')

watch(
  () => props.outcome,
  async (outcome) => {
    try {
      found.value = await getReceiptLines(props.receipt, outcome)
    } catch (error) {
      problem.value = error instanceof Error ? error.message : String(error)
    }
  },
  { immediate: true },
)
</script>

<template>
  <section class="lines" aria-label="Lines of the receipt">
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <template v-if="found">
      <h3>
        {{ counted(found.total, 'line') }} {{ WORDS[outcome] }}
        <span v-if="found.total > found.lines.length" class="soft"
          >the first {{ found.lines.length }}</span
        >
        <button class="btn no-print" @click="emit('close')">Close</button>
      </h3>
      <table class="list">
        <thead>
          <tr>
            <th class="n">line</th>
            <th>key</th>
            <th>name</th>
            <th>why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found.lines" :key="one.line">
            <td class="n mono soft">{{ one.line }}</td>
            <td class="mono">{{ one.key }}</td>
            <td>
              <RouterLink v-if="one.record" :to="`/rosters/${roster}?record=${one.record}`">{{
                one.name
              }}</RouterLink>
              <RouterLink v-else :to="`/intakes/${intake}/problems?line=${one.line}`">{{
                one.name || 'no name'
              }}</RouterLink>
            </td>
            <td class="why">{{ one.message }}</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.lines {
  margin-top: 22px;
}
h3 {
  display: flex;
  align-items: baseline;
  gap: 10px;
  padding-bottom: 8px;
}
.why {
  white-space: normal;
  color: var(--ink2);
}
td a {
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
td a:hover {
  text-decoration: underline;
}
</style>
