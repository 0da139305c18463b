<script setup lang="ts">
import { computed, watch } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import ChooseSeveral from '@/components/controls/ChooseSeveral.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { today } from '@/logic/clock'
import { ofCodes } from '@/logic/choices'

/** The value of a condition: codes are chosen, anything else is typed. */
const props = defineProps<{
  field: FieldDocument | undefined
  test: string
  text: string
  locked: boolean
}>()
const emit = defineEmits<{ change: [text: string] }>()

const catalog = useCatalog()
const list = computed(() => String(props.field?.nevefield?.codeList ?? ''))
watch(list, (name) => name && void catalog.loadList(name).catch(() => undefined), {
  immediate: true,
})
const codes = computed(() => ofCodes(catalog.state.lists[list.value]?.codes ?? [], today()))
const isChosen = computed(() => codes.value.length > 0 && ['is', 'not'].includes(props.test))
</script>

<template>
  <ChooseSeveral
    v-if="isChosen"
    class="value"
    :model-value="text"
    :options="codes"
    label="Value"
    :disabled="locked"
    @update:model-value="(said) => emit('change', said)"
  />
  <ChooseOne
    v-else-if="codes.length && test === 'has'"
    class="value"
    :model-value="text"
    :options="codes"
    label="Value"
    :disabled="locked"
    @update:model-value="(said) => emit('change', said ?? '')"
  />
  <TextBox
    v-else
    class="box value"
    :model-value="text"
    :disabled="locked"
    aria-label="Value"
    placeholder="value; another value"
    @change="(event: Event) => emit('change', (event.target as HTMLInputElement).value)"
  />
</template>

<style scoped>
.value {
  width: 170px;
}
</style>
