<script setup lang="ts">
import { ref } from 'vue'
import FileChooser from '@/components/FileChooser.vue'
import { bringPicture } from '@/api/cards'
import type { Item } from '@/logic/design'

/** The picture that stands on all cards. */
const props = defineProps<{ item: Item; design: string }>()
const emit = defineEmits<{ put: [next: Partial<Item>] }>()

const problem = ref('')
async function bring(file: File): Promise<void> {
  problem.value = ''
  try {
    emit('put', { picture: await bringPicture(props.design, file) })
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <p class="row">
    <FileChooser @chosen="bring">{{
      item.picture ? 'Another picture' : 'Choose a picture'
    }}</FileChooser>
    <button
      v-if="item.picture && item.kind === 'band'"
      class="link"
      @click="emit('put', { picture: '' })"
    >
      without it
    </button>
  </p>
  <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
</template>

<style scoped>
.row {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 6px;
}
</style>
