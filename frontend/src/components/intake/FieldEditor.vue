<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { Select } from 'ant-design-vue'
import type { Field } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'

const props = defineProps<{ field: Field; disabled?: boolean }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const value = defineModel<string>({ required: true })

const catalog = useCatalog()
const box = ref<HTMLInputElement>()
const select = ref<{ focus: () => void }>()
const options = computed(() =>
  (catalog.state.lists[props.field.code_list]?.codes ?? []).map((one) => ({
    value: one.code,
    label: `${one.code} ${one.label}`,
  })),
)
const coded = computed(() => props.field.code_list !== '' && !props.field.several)
const placeholder = computed(() =>
  props.field.several
    ? 'codes, a semicolon between'
    : props.field.type === 'date'
      ? '2026-09-01 or 1.9.2026'
      : '',
)
const fits = (typed: string, option: { label?: unknown } | undefined) =>
  String(option?.label ?? '')
    .toLowerCase()
    .includes(typed.toLowerCase())

function choose(code: unknown): void {
  value.value = String(code)
  emit('done')
}

onMounted(() => void catalog.loadList(props.field.code_list).catch(() => undefined))
defineExpose({
  focus: () => {
    box.value?.focus()
    box.value?.select()
    select.value?.focus()
  },
})

function leaveBox(): void {
  emit('leave')
  box.value?.blur()
}
</script>

<template>
  <Select
    v-if="coded"
    ref="select"
    show-search
    :value="value || undefined"
    :options="options"
    :filter-option="fits"
    :disabled="disabled"
    placeholder="choose a code"
    :aria-label="field.title"
    style="width: 100%"
    @change="choose"
    @keydown.esc="emit('leave')"
  />
  <input
    v-else
    ref="box"
    v-model="value"
    class="box"
    :class="{ mono: field.mono }"
    :disabled="disabled"
    :placeholder="placeholder"
    :aria-label="field.title"
    @keydown.enter.prevent="emit('done')"
    @keydown.esc="leaveBox"
  />
</template>

<style scoped>
.box {
  width: 100%;
}
</style>
