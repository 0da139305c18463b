<script setup lang="ts">
import type { Destination } from '@/api/types'
import { count, moment } from '@/logic/words'

/** The doors, and which of them do not know yet what they should. */
defineProps<{ doors: Destination['doors'] }>()
const now = new Date()
</script>

<template>
  <ul class="doors" aria-label="Doors">
    <li v-for="door in doors" :key="door.door" :class="{ bad: !door.answers || door.late }">
      <b>{{ door.title }}</b>
      <span v-if="!door.answers">does not answer, since {{ moment(door.at, now) }}</span>
      <span v-else class="soft">{{ count(door.holds) }} of {{ count(door.room) }} cards</span>
      <span v-if="door.late">{{ count(door.late) }} to be told yet</span>
    </li>
  </ul>
</template>

<style scoped>
.doors {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  margin: 10px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-direction: column;
  min-width: 130px;
  padding: 4px 10px;
  border: 1px solid var(--line);
  font-size: 13px;
  line-height: 18px;
}
li.bad {
  border-color: var(--stopped);
}
</style>
