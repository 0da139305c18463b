<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Opening } from '@/api/types'
import { counted } from '@/logic/words'

/** What is opened: how the file is read, what the roster is called, what people are known by. */
const props = defineProps<{ opening: Opening; working: boolean; canUndo: boolean }>()
const emit = defineEmits<{
  title: [title: string]
  name: [name: string]
  key: [heading: string]
  undo: []
  forget: []
  open: []
}>()

const title = ref(props.opening.title)
watch(
  () => props.opening.title,
  (now) => (title.value = now),
)
const key = computed({
  get: () => props.opening.key,
  set: (chosen) => chosen !== props.opening.key && emit('key', chosen ?? ''),
})
const keys = computed(() => [
  { value: '', label: 'nothing alone, only by likeness' },
  ...props.opening.columns
    .filter((one) => one.field)
    .map((one) => ({ value: one.heading, label: one.title, also: one.heading })),
])
const fields = computed(() => props.opening.columns.filter((one) => one.field).length)
function rename(): void {
  const said = title.value.trim()
  if (said && said !== props.opening.title) emit('title', said)
  else title.value = props.opening.title
}
</script>

<template>
  <header class="head">
    <div class="words">
      <h1>A roster from {{ opening.file_name }}</h1>
      <p class="soft">{{ opening.sentence }}</p>
    </div>
    <div class="acts">
      <button class="btn" @click="emit('forget')">Throw away</button>
      <button class="btn" :disabled="!canUndo || working" @click="emit('undo')">
        Undo <kbd>Z</kbd>
      </button>
      <button
        class="btn main"
        :disabled="working || opening.is_name_taken || !fields"
        @click="emit('open')"
      >
        Open the roster with {{ counted(fields, 'field') }}
      </button>
    </div>
    <p class="names">
      <label
        >Call it
        <input
          v-model="title"
          class="box"
          maxlength="120"
          aria-label="Name of the roster"
          @keydown.enter="rename"
          @blur="rename"
      /></label>
      <span class="known"
        >known by <ChooseOne v-model="key" :options="keys" label="What people are known by"
      /></span>
      <span v-if="opening.is_name_taken" class="bad">There is a roster of that name.</span>
    </p>
  </header>
</template>

<style scoped>
.head {
  padding: 16px 22px 10px;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 18px;
  align-items: flex-start;
}
.words {
  flex: 1 1 380px;
  min-width: 0;
}
h1 {
  font-size: 20px;
  line-height: 26px;
  overflow-wrap: anywhere;
}
.names {
  flex: 1 0 100%;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
}
.known {
  display: flex;
  align-items: center;
  gap: 6px;
}
.known :deep(.choose) {
  min-width: 170px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
