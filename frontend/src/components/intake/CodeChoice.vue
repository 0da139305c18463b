<script setup lang="ts">
import { computed, onMounted } from 'vue'
import { isUsedOn, ofCodes } from '@/logic/choices'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { useCatalog } from '@/composables/useCatalog'
import { today } from '@/logic/clock'

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
const codes = computed(() =>
  props.current ? all.value.filter((one) => isUsedOn(one, today())) : all.value,
)
/** A value that is no code in use stands first, as it is. */
const options = computed(() => {
  const { none, value } = props
  const known = codes.value.some((one) => one.code === value)
  return [
    ...(none ? [{ value: '', label: none }] : []),
    ...(value === null || known ? [] : [{ value, label: value }]),
    ...ofCodes(codes.value),
  ]
})

onMounted(() => void catalog.loadList(props.list).catch(() => undefined))
</script>

<template>
  <ChooseOne
    class="choice"
    :tone="value === null && !none ? 'ask' : undefined"
    :model-value="value ?? ''"
    :options="options"
    :label="label"
    :disabled="locked"
    placeholder="choose a code"
    @update:model-value="(code) => emit('chosen', code ?? '')"
  />
</template>

<style scoped>
.choice {
  width: 168px;
}
</style>
