<script setup lang="ts">
import { computed } from 'vue'
import type { PastChange } from '@/api/types'
import { OUTCOMES, smallLayers, WORDS } from '@/logic/layers'
import { count, momentInFull } from '@/logic/words'

const props = defineProps<{ change: PastChange; largest: number }>()
const drawn = computed(() =>
  props.change.tally ? smallLayers(props.change.tally, props.largest, 84) : [],
)
const absent = computed(() => props.change.tally?.absent ?? 0)
const absentHeight = computed(() =>
  Math.max(4, Math.min(22, (Math.sqrt(absent.value) / Math.sqrt(props.largest || 1)) * 84)),
)
const said = computed(() => {
  const tally = props.change.tally
  const parts = tally
    ? OUTCOMES.filter((one) => tally[one]).map((one) => `${count(tally[one])} ${WORDS[one]}`)
    : []
  const undone = props.change.undone ? ' Taken back.' : ''
  return (
    `${props.change.title}, ${momentInFull(props.change.at)}: ` +
    `${[...parts, `${count(absent.value)} absent`].join(', ')}.${undone}`
  )
})
</script>

<template>
  <span
    class="small-layers"
    :class="{ undone: change.undone }"
    role="img"
    :aria-label="said"
    :title="said"
  >
    <i
      v-for="layer in drawn"
      :key="layer.outcome"
      :class="`l-${layer.outcome}`"
      :style="{ height: `${layer.height}px` }"
    />
    <span class="ground"
      ><i v-if="absent" class="l-absent" :style="{ height: `${absentHeight}px` }"
    /></span>
  </span>
</template>

<style scoped>
.small-layers {
  display: flex;
  flex-direction: column;
  width: 26px;
}
i {
  display: block;
  width: 26px;
  margin-bottom: 1px;
}
i.l-held {
  border-width: 1px;
}
.ground {
  border-top: 1.5px solid var(--ink);
  height: 24px;
  padding-top: 1px;
}
.undone {
  opacity: 0.35;
}
</style>
