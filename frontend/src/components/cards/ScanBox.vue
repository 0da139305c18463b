<script setup lang="ts">
import { ref } from 'vue'
import { handOver } from '@/api/cards'
import { useCards } from '@/composables/useCards'

/** A scanner types what it reads and then Enter: the card that it names is handed over. */
const emit = defineEmits<{ done: [] }>()

const cards = useCards()
const scanned = ref('')
const told = ref('')
const wrong = ref(false)

async function take(): Promise<void> {
  const text = scanned.value.trim()
  scanned.value = ''
  if (!text) return
  try {
    const found = await handOver(cards.name, { cards: [], scanned: text, is_over: true })
    told.value = `${found.name || text} has got it`
    wrong.value = false
    emit('done')
    await cards.refresh()
  } catch (error) {
    told.value = error instanceof Error ? error.message : String(error)
    wrong.value = true
  }
}
</script>

<template>
  <form class="scan" @submit.prevent="take">
    <input
      v-model="scanned"
      class="box"
      placeholder="Scan to hand over"
      aria-label="Scan a card to hand it over"
      autocomplete="off"
    />
    <p role="status" class="small" :class="{ bad: wrong }">{{ told }}</p>
  </form>
</template>

<style scoped>
.scan {
  width: 160px;
}
.box {
  width: 100%;
}
</style>
