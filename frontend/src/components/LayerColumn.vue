<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { useElementSize } from '@vueuse/core'
import { layOut } from '@/logic/layers'
import { count } from '@/logic/words'

/** One layer: how many of what, and the class that gives its look. */
export interface Part {
  key: string
  count: number
  word: string
  look: string
}

/** A tally drawn as layers, and under the ground what is beside it. */
const props = defineProps<{
  total: number
  of: string
  parts: Part[]
  below: Part
  selected: string
  working?: boolean
  /** The least height of a layer in pixels, where words take two lines. */
  least?: number
}>()
const emit = defineEmits<{ open: [key: string] }>()

const BELOW = 52 // pixels for the ground and what lies under it
const LEAST = 120
const { height } = useElementSize(useTemplateRef('body'), { width: 0, height: 500 })
const drawn = computed(() =>
  layOut(props.parts, Math.max(LEAST, height.value - BELOW), props.least),
)
</script>

<template>
  <aside class="tally no-print" :class="{ working }" aria-label="Tally" :aria-busy="working">
    <button class="plain read" :class="{ on: selected === 'all' }" @click="emit('open', 'all')">
      <b>{{ count(total) }}</b> {{ of }}
    </button>
    <div ref="body" class="body">
      <button
        v-for="part in drawn"
        :key="part.key"
        class="layer"
        :class="[part.look, { on: selected === part.key }]"
        :style="{ height: `${part.height}px` }"
        :aria-pressed="selected === part.key"
        @click="emit('open', part.key)"
      >
        <b>{{ count(part.count) }}</b>{{ part.word }}
      </button>
      <div class="ground" />
      <button
        class="layer"
        :class="[below.look, { on: selected === below.key }]"
        :aria-pressed="selected === below.key"
        @click="emit('open', below.key)"
      >
        <b>{{ count(below.count) }}</b>{{ below.word }}<slot name="below" />
      </button>
    </div>
    <p class="sum" role="status"><slot /></p>
  </aside>
</template>

<style scoped src="./layers.css"></style>
