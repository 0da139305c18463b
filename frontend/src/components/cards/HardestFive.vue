<script setup lang="ts">
import CardFace from './CardFace.vue'
import type { CardTried } from '@/api/types'
import { count } from '@/logic/words'

/** The records that try the design hardest, each with how. */
defineProps<{
  tried: CardTried | null
  trying: boolean
  size: { width: number; height: number }
}>()
const emit = defineEmits<{ show: [hard: { face: string; record: number }] }>()
</script>

<template>
  <section aria-label="The five that try it hardest">
    <p class="head">
      <b>The five that try it hardest</b>
      <span class="soft" role="status">{{
        trying
          ? 'looking for them …'
          : tried
            ? `of ${count(tried.people)} records, found anew after each change`
            : ''
      }}</span>
    </p>
    <div v-if="tried" class="five">
      <div v-for="hard in tried.hardest" :key="hard.card.record">
        <div class="small-face">
          <CardFace
            :side="hard.side === 'back' ? hard.card.back : hard.card.front"
            :size="size"
            :record="hard.card.record"
            :frame="hard.card.frame"
            :label="hard.what"
          />
          <button
            class="over"
            :aria-label="`Show ${hard.card.name}: ${hard.what}`"
            @click="emit('show', { face: hard.card.face, record: hard.card.record })"
          />
        </div>
        <p class="small" :class="{ bad: hard.fails }">
          {{
            hard.people > 1
              ? `${hard.what.replace(/\.$/, '')}: ${count(hard.people)} people`
              : hard.what
          }}
        </p>
      </div>
    </div>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 16px 0 8px;
}
.five {
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 12px;
}
.small-face {
  position: relative;
}
.over {
  position: absolute;
  inset: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.five p {
  margin-top: 4px;
}
</style>
