<script setup lang="ts">
import { ref, watch } from 'vue'
import { traceRecord } from '@/api/passing'
import type { Went } from '@/api/types'
import { standsIn } from '@/logic/passing'
import { moment } from '@/logic/words'

/** Where a record has gone, in its life. */
const props = defineProps<{ record: number }>()
const found = ref<Went[]>([])
const now = new Date()

watch(
  () => props.record,
  async (record) => {
    found.value = []
    // without it the record is shown as it is
    found.value = await traceRecord(record).catch(() => [])
  },
  { immediate: true },
)
</script>

<template>
  <template v-if="found.length">
    <h3>Passed on</h3>
    <ul>
      <li v-for="one in found" :key="one.destination">
        <RouterLink :to="`/passing/${one.destination}`">{{ one.title }}</RouterLink>
        <span class="soft">
          {{ one.place === 'not theirs' ? 'not concerned' : standsIn(one.place)?.word
          }}{{ one.at ? `, told ${moment(one.at, now)}` : '' }}</span
        >
      </li>
    </ul>
  </template>
</template>

<style scoped src="./aside.css"></style>
