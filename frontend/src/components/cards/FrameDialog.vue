<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import { setFrame } from '@/api/cards'
import type { Card } from '@/api/types'
import { useCards } from '@/composables/useCards'
import { useFrame } from '@/composables/useFrame'
import { scaled } from '@/logic/frames'

/**
 * What of a photograph is shown: the frame keeps the shape of its place. It is dragged, or moved
 * with the arrows; plus and minus make it larger and smaller.
 */
const props = defineProps<{ card: Card }>()
const emit = defineEmits<{ close: [] }>()

const cards = useCards()
const picture = ref<HTMLImageElement>()
const { frame, press, begin, drag, end } = useFrame(props.card.frame, picture)
const box = computed(() => {
  const [x, y, width, height] = frame.value.map((share) => `${100 * share}%`)
  return { left: x, top: y, width, height }
})
async function keep(): Promise<void> {
  if (await cards.act(() => setFrame(props.card.record, frame.value))) {
    cards.turn.value += 1
    emit('close')
  }
}
</script>

<template>
  <Modal
    open
    destroy-on-close
    :title="`What is shown of ${card.name}`"
    :footer="null"
    :width="420"
    @cancel="emit('close')"
  >
    <p class="soft">Drag the frame, or use the arrows; + and − make it larger and smaller.</p>
    <div class="whole">
      <img ref="picture" :src="`/api/records/${card.record}/photo`" alt="The whole photograph" />
      <button
        class="frame"
        :style="box"
        aria-label="Frame of what is shown"
        @keydown="press"
        @pointerdown.prevent="begin"
        @pointermove="drag"
        @pointerup="end"
      />
    </div>
    <p class="do">
      <button class="btn main" @click="keep">Keep it so</button>
      <button class="btn" aria-label="Smaller" @click="frame = scaled(frame, 0.92)">−</button>
      <button class="btn" aria-label="Larger" @click="frame = scaled(frame, 1.08)">+</button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
.whole {
  position: relative;
  width: max-content;
  max-width: 100%;
  margin: 10px auto;
}
img {
  display: block;
  max-width: 100%;
  max-height: 420px;
}
.frame {
  position: absolute;
  padding: 0;
  border: 2px solid #fff;
  outline: 2px solid #15212a;
  background: none;
  cursor: move;
  touch-action: none;
  box-shadow: 0 0 0 9999px rgb(255 255 255 / 45%);
  clip-path: inset(-2px);
}
.do {
  display: flex;
  gap: 8px;
}
</style>
