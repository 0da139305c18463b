<script setup lang="ts">
import { computed } from 'vue'
import { usePassing } from '@/composables/usePassing'
import type { Way } from '@/logic/passing'

/** How files get to them, beside being taken here by hand. */
const way = defineModel<Way>({ required: true })
const props = defineProps<{ name?: string }>()
const passing = usePassing()
const set = (next: Partial<Way>) => (way.value = { ...way.value, ...next })
const ticked = (event: Event) => (event.target as HTMLInputElement).checked
const outbox = computed(() => passing.outbox.value)
const folder = computed(() => {
  if (outbox.value === null) return 'who administers everything may choose this'
  if (!outbox.value) return 'whoever runs the server names a folder first (NEVEFIELD_OUTBOX)'
  return `${outbox.value}/${props.name || '…'}`
})
</script>

<template>
  <div class="line goes">
    <span>It gets there</span>
    <div class="ways">
      <label
        ><input
          type="checkbox"
          :checked="way.is_fetched ?? false"
          @change="(event) => set({ is_fetched: ticked(event) })"
        />
        they fetch it at an address with a token</label
      >
      <label
        ><input
          type="checkbox"
          :checked="way.into_folder ?? false"
          :disabled="!outbox && !way.into_folder"
          @change="(event) => set({ into_folder: ticked(event) })"
        />
        it is laid in a folder of the server
        <span class="soft folder">{{ folder }}</span></label
      >
      <span v-if="!way.is_fetched && !way.into_folder" class="soft"
        >otherwise it is taken here by hand</span
      >
    </div>
  </div>
</template>

<style scoped src="./lines.css"></style>
<style scoped>
.line.goes {
  align-items: start;
}
.goes > span {
  padding-top: 1px;
}
.ways {
  display: grid;
  gap: 4px;
}
.folder {
  overflow-wrap: anywhere;
}
</style>
