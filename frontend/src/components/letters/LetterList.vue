<script setup lang="ts">
import PartsStrip from '@/components/PartsStrip.vue'
import type { LetterBrief, Roster } from '@/api/types'
import { drawn, sayCounts } from '@/logic/letters'
import { day, moment } from '@/logic/words'

/** The letters to people of a roster, each with where those stand to whom it was written. */
defineProps<{ letters: LetterBrief[]; chosen: number; roster: Roster }>()
const now = new Date()
</script>

<template>
  <nav class="told" aria-label="Letters">
    <p class="head">
      <b>Letters</b><span>&nbsp;to&nbsp;</span
      ><RouterLink :to="`/rosters/${roster.name}`">{{ roster.title }}</RouterLink>
    </p>
    <RouterLink
      v-for="one in letters"
      :key="one.id"
      class="one"
      :class="{ on: one.id === chosen }"
      :aria-current="one.id === chosen ? 'page' : undefined"
      :to="`/rosters/${roster.name}/letters/${one.id}`"
    >
      <b>{{ one.title }}</b>
      <span class="soft small"
        >{{ moment(one.at, now) }}{{ one.by ? `, ${one.by}` : ''
        }}{{ one.asks ? ` · answers until ${day(one.asks.last_day)}` : '' }}</span
      >
      <PartsStrip :parts="drawn(one.counts)" :label="sayCounts(one.counts)" />
      <span class="soft small">{{ sayCounts(one.counts) }}</span>
    </RouterLink>
  </nav>
</template>

<style scoped src="../side.css"></style>
