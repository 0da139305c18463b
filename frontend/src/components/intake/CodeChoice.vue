<script setup lang="ts">
import { computed, onMounted } from 'vue'
import type { Code } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { today } from '@/logic/words'

const props = defineProps<{
  list: string
  value: string | null
  locked: boolean
  label: string
  /** The word for no code, where none may be chosen. */
  none?: string
  /** Only codes in use today. */
  current?: boolean
}>()
const emit = defineEmits<{ chosen: [code: string] }>()

const catalog = useCatalog()
const all = computed(() => catalog.state.lists[props.list]?.codes ?? [])
const isUsed = (one: Code) =>
  (!one.first_day || one.first_day <= today()) && (!one.last_day || one.last_day >= today())
const codes = computed(() => (props.current ? all.value.filter(isUsed) : all.value))
const known = computed(() => codes.value.some((one) => one.code === props.value))

onMounted(() => void catalog.loadList(props.list).catch(() => undefined))
</script>

<template>
  <select
    class="box choice"
    :class="{ open: value === null && !none }"
    :value="value ?? ''"
    :disabled="locked"
    :aria-label="label"
    @change="emit('chosen', ($event.target as HTMLSelectElement).value)"
  >
    <option v-if="none" value="">{{ none }}</option>
    <option v-else-if="value === null" value="" disabled>choose a code</option>
    <option v-if="value !== null && !known" :value="value">{{ value }}</option>
    <option v-for="one in codes" :key="one.code" :value="one.code">
      {{ one.code }} {{ one.label }}
    </option>
  </select>
</template>

<style scoped>
.choice {
  width: 168px;
}
.choice.open {
  background: var(--ask-soft);
  border-color: var(--waiting);
}
</style>
