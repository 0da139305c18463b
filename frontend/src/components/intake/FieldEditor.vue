<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Field } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { ofCodes } from '@/logic/choices'

const props = defineProps<{ field: Field; disabled?: boolean }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const value = defineModel<string>({ required: true })

const catalog = useCatalog()
const box = ref<HTMLInputElement>()
const select = ref<{ focus: () => void }>()
const options = computed(() => ofCodes(catalog.state.lists[props.field.code_list]?.codes ?? []))
const coded = computed(() => props.field.code_list !== '' && !props.field.several)
const placeholder = computed(() =>
  props.field.several
    ? 'codes, a semicolon between'
    : props.field.type === 'date'
      ? '2026-09-01 or 1.9.2026'
      : '',
)
function choose(code: string | null): void {
  value.value = code ?? ''
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
  <ChooseOne
    v-if="coded"
    ref="select"
    class="whole"
    :model-value="value"
    :options="options"
    :label="field.title"
    :disabled="disabled"
    placeholder="choose a code"
    @update:model-value="choose"
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
.box,
.whole {
  width: 100%;
}
</style>
