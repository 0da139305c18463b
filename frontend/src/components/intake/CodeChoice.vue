<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { useCatalog } from '@/composables/useCatalog'

const props = defineProps<{ list: string; value: string | null; locked: boolean; label: string }>()
const emit = defineEmits<{ chosen: [code: string] }>()

const catalog = useCatalog()
const codes = computed(() => catalog.state.lists[props.list]?.codes ?? [])
const known = computed(() => codes.value.some((one) => one.code === props.value))

onMounted(() => void catalog.loadList(props.list).catch(() => undefined))
</script>

<template>
  <select class="box choice" :class="{ open: value === null }" :value="value ?? ''" :disabled="locked" :aria-label="label" @change="emit('chosen', ($event.target as HTMLSelectElement).value)">
    <option v-if="value === null" value="" disabled>choose a code</option>
    <option v-if="value !== null && !known" :value="value">{{ value }}</option>
    <option v-for="one in codes" :key="one.code" :value="one.code">{{ one.code }} {{ one.label }}</option>
  </select>
</template>

<style scoped>
.choice { width: 168px; }
.choice.open { background: var(--ask-soft); border-color: var(--waiting); }
</style>
