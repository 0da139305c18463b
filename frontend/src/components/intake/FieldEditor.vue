<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import DayField from '@/components/controls/DayField.vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Field } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { ofCodes } from '@/logic/choices'
import { today } from '@/logic/clock'

const props = defineProps<{ field: Field; disabled?: boolean }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const value = defineModel<string>({ required: true })

const catalog = useCatalog()
const box = ref<HTMLInputElement>()
const select = ref<{ focus: () => void }>()
const options = computed(() =>
  ofCodes(catalog.state.lists[props.field.code_list]?.codes ?? [], today()),
)
const coded = computed(() => props.field.code_list !== '')
/** A day that is one, or none yet; what a file has and is no day is put right as text. */
const isDay = props.field.type === 'date' && /^(\d{4}-\d{2}-\d{2})?$/.test(value.value)
const placeholder = computed(() =>
  props.field.several
    ? 'a semicolon between'
    : props.field.type === 'date'
      ? '1 Sep 2026 or 1.9.2026'
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
  <ChooseSeveral
    v-if="coded && field.several"
    ref="select"
    v-model="value"
    class="whole"
    :options="options"
    :label="field.title"
    :disabled="disabled"
    @done="emit('done')"
    @keydown.esc="emit('leave')"
  />
  <ChooseOne
    v-else-if="coded"
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
  <DayField
    v-else-if="isDay"
    ref="select"
    v-model="value"
    class="whole"
    light
    :label="field.title"
    :disabled="disabled"
    @update:model-value="emit('done')"
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
