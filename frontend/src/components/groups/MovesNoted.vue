<script setup lang="ts">
import type { Noted } from '@/composables/useMoves'
import { counted, day as inWords } from '@/logic/words'

/** Moves that are noted, with what is lost by them. */
defineProps<{ count: number; noted: Noted[] }>()
const emit = defineEmits<{ review: []; forget: [] }>()
</script>

<template>
  <div class="waiting no-print" role="status">
    <ul v-if="noted.length" class="noted">
      <li v-for="one in noted" :key="one.own">
        <b>{{ one.name }}</b> {{ one.from ? `leaves ${one.from}` : 'had none'
        }}{{ one.to ? `, joins ${one.to}` : ''
        }}<span v-for="lost in one.lost" :key="lost" class="bad"> · {{ lost }}</span
        ><span v-if="one.since" class="soft"> · was in it since {{ inWords(one.since) }}</span>
      </li>
    </ul>
    <span
      ><b>{{ counted(count, 'move') }} noted</b>, nothing is changed yet.</span
    >
    <button class="btn main" @click="emit('review')">
      See what {{ count === 1 ? 'it' : 'they' }} would do</button
    ><button class="btn" @click="emit('forget')">Forget {{ count === 1 ? 'it' : 'them' }}</button>
  </div>
</template>

<style scoped>
.noted {
  flex: 1 0 100%;
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 13.5px;
  line-height: 21px;
}
.waiting {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  padding: 10px 16px 10px 0;
  border-top: 1px solid var(--ink);
}
</style>
