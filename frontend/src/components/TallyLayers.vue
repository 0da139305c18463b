<script setup lang="ts">
import { computed } from 'vue'
import LayerColumn from './LayerColumn.vue'
import type { Tally } from '@/api/types'
import { addsUp, OUTCOMES, WORDS } from '@/logic/layers'
import { count, counted } from '@/logic/words'

const props = defineProps<{
  tally: Tally
  notData: number
  people: number
  selected: string
  working: boolean
}>()
const emit = defineEmits<{ open: [outcome: string]; lines: [] }>()

const part = (key: keyof typeof WORDS) => ({
  key,
  count: props.tally[key],
  word: WORDS[key],
  look: `l-${key}`,
})
const parts = computed(() => OUTCOMES.map(part))
</script>

<template>
  <LayerColumn
    :total="tally.read"
    of="rows read"
    :parts="parts"
    :below="part('absent')"
    :selected="selected"
    :working="working"
    @open="emit('open', $event)"
  >
    <template v-if="people < tally.read">of {{ count(people) }} people<br /></template>
    <template v-if="working">working it out …</template>
    <template v-else-if="addsUp(tally)">adds up ✓</template>
    <b v-else class="bad">does not add up</b>
    <button v-if="notData" class="plain" @click="emit('lines')">
      + {{ counted(notData, 'line that is', 'lines that are') }} not data
    </button>
  </LayerColumn>
</template>
