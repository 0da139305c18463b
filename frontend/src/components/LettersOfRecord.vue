<script setup lang="ts">
import { ref, watch } from 'vue'
import { lettersTo } from '@/api/letters'
import type { LetterToRecord, Roster } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { sayStand } from '@/logic/letters'
import { moment } from '@/logic/words'

/** What was written to somebody, in their life, and what they answered. */
const props = defineProps<{ record: number; roster: Roster }>()
const found = ref<LetterToRecord[]>([])
const now = new Date()

watch(
  () => props.record,
  async (record) => {
    found.value = []
    // without it the record is shown as it is
    found.value = await lettersTo(record).catch(() => [])
  },
  { immediate: true },
)
</script>

<template>
  <template v-if="found.length">
    <h3>Written to</h3>
    <ul>
      <li v-for="one in found" :key="one.letter">
        <RouterLink
          v-if="roster.level >= PREPARE"
          :to="`/rosters/${roster.name}/letters/${one.letter}`"
          >{{ one.title }}</RouterLink><template v-else>{{ one.title }}</template>
        <span class="soft">
          {{ moment(one.at, now) }}, {{ sayStand(one.part)
          }}{{ one.answered_at ? ` ${moment(one.answered_at, now)}` : '' }}</span
        >
      </li>
    </ul>
  </template>
</template>

<style scoped src="./aside.css"></style>
