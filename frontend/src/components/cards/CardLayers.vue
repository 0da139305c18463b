<script setup lang="ts">
import { computed } from 'vue'
import LayerColumn from '@/components/LayerColumn.vue'
import type { CardDesign } from '@/api/types'
import { NEEDS, TAKE_IN } from '@/logic/design'

const props = defineProps<{ design: CardDesign; selected: string }>()
const emit = defineEmits<{ open: [need: string] }>()

const parts = computed(() =>
  NEEDS.map((need) => ({ ...need, count: props.design.counts[need.key] ?? 0 })),
)
const below = computed(() => ({ ...TAKE_IN, count: props.design.counts[TAKE_IN.key] ?? 0 }))
const adds = computed(
  () => parts.value.reduce((sum, part) => sum + part.count, 0) === props.design.people,
)
</script>

<template>
  <LayerColumn
    :total="design.people"
    of="people get a card"
    :parts="parts"
    :below="below"
    :selected="selected"
    :least="52"
    @open="emit('open', $event)"
  >
    <template v-if="adds">adds up ✓</template><b v-else class="bad">does not add up</b>
  </LayerColumn>
</template>
