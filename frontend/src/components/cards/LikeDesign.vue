<script setup lang="ts">
import { computed, ref } from 'vue'
import FileChooser from '@/components/FileChooser.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { CardDesignBrief } from '@/api/types'

/** Another design, or one from a file, that a new one begins as. */
const props = defineProps<{ designs: CardDesignBrief[] }>()
const emit = defineEmits<{ take: [from: string | File | null] }>()

const copied = ref('')
const options = computed(() => [
  { value: '', label: 'none yet' },
  ...props.designs.map((one) => ({ value: one.name, label: one.title })),
])
function bring(file: File): void {
  copied.value = ''
  emit('take', file)
}
</script>

<template>
  <span class="like">
    <ChooseOne
      v-if="designs.length"
      v-model="copied"
      :options="options"
      label="Made like"
      @update:model-value="(name) => emit('take', name)"
    /><FileChooser @chosen="bring">A JSON file …</FileChooser>
  </span>
</template>

<style scoped>
.like {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
