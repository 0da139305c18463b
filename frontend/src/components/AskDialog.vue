<script setup lang="ts">
import { ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import { useAsk } from '@/composables/useAsk'
import { focusSoon } from '@/logic/focus'

/** What is asked before something is lost. */
const { asked, answer } = useAsk()
const safe = ref<HTMLButtonElement>()
watch(
  () => asked.question,
  (question) => question && focusSoon(() => safe.value),
)
</script>

<template>
  <Modal
    :open="!!asked.question"
    :title="asked.question?.title"
    :footer="null"
    :width="440"
    :z-index="1100"
    @cancel="answer(false)"
  >
    <p>{{ asked.question?.said }}</p>
    <p class="do">
      <button ref="safe" class="btn main" @click="answer(false)">{{ asked.question?.not }}</button>
      <button class="btn" @click="answer(true)">{{ asked.question?.act }}</button>
    </p>
  </Modal>
</template>

<style scoped>
.do {
  display: flex;
  gap: 8px;
  margin-top: 14px;
}
</style>
