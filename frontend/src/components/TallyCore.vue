<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import type { Tally } from '@/api/types'
import { addsUp, layers, WORDS } from '@/logic/core'
import { count, counted } from '@/logic/words'

const props = defineProps<{
  tally: Tally
  notData: number
  people: number
  selected: string
  working: boolean
}>()
const emit = defineEmits<{ open: [outcome: string]; lines: [] }>()

const body = ref<HTMLElement>()
const height = ref(500)
const drawn = computed(() => layers(props.tally, height.value))
let watcher: ResizeObserver | undefined

onMounted(() => {
  const measure = () => (height.value = Math.max(120, (body.value?.clientHeight ?? 500) - 52))
  watcher = new ResizeObserver(measure)
  if (body.value) watcher.observe(body.value)
  measure()
})
onBeforeUnmount(() => watcher?.disconnect())
</script>

<template>
  <aside class="core no-print" :class="{ working }" aria-label="Tally" :aria-busy="working">
    <button class="plain read" :class="{ on: selected === 'all' }" @click="emit('open', 'all')">
      <b>{{ count(tally.read) }}</b> rows read
    </button>
    <div ref="body" class="body">
      <button
        v-for="layer in drawn"
        :key="layer.outcome"
        class="layer"
        :class="[`l-${layer.outcome}`, { on: selected === layer.outcome }]"
        :style="{ height: `${layer.height}px` }"
        :aria-pressed="selected === layer.outcome"
        @click="emit('open', layer.outcome)"
      >
        <b>{{ count(layer.count) }}</b>{{ WORDS[layer.outcome] }}
      </button>
      <div class="ground" />
      <button
        class="layer l-absent"
        :class="{ on: selected === 'absent' }"
        :aria-pressed="selected === 'absent'"
        @click="emit('open', 'absent')"
      >
        <b>{{ count(tally.absent) }}</b>absent
      </button>
    </div>
    <p class="sum" role="status">
      <template v-if="people < tally.read">of {{ count(people) }} people<br /></template>
      <template v-if="working">working it out …</template>
      <template v-else-if="addsUp(tally)">adds up ✓</template>
      <b v-else class="bad">does not add up</b>
      <button v-if="notData" class="plain" @click="emit('lines')">
        + {{ counted(notData, 'line that is', 'lines that are') }} not data
      </button>
    </p>
  </aside>
</template>

<style scoped>
.core {
  width: 92px;
  flex: none;
  background: var(--snow);
  border-right: 1px solid var(--line);
  padding: 10px 10px 0;
  display: flex;
  flex-direction: column;
  font-size: 12px;
  line-height: 14px;
}
.read {
  font-size: 12px;
  color: var(--ink2);
  margin-bottom: 8px;
  position: relative;
}
.read b {
  display: block;
  font-weight: 600;
  font-size: 18px;
  line-height: 20px;
  color: var(--ink);
}
.body {
  flex: 1;
  min-height: 0;
  overflow: visible;
}
.layer {
  position: relative;
  width: 100%;
  margin-bottom: 2px;
  padding: 2px 6px;
  min-height: 38px;
  line-height: 14px;
  display: flex;
  flex-direction: column;
  justify-content: center;
  align-items: flex-start;
  cursor: pointer;
  font-size: 12px;
}
.layer:not(.l-held, .l-left_out, .l-absent) {
  border: 0;
}
.layer.l-waiting {
  padding-left: 10px;
}
.layer b {
  font-size: 15px;
  font-weight: 600;
  line-height: 16px;
}
.on::after {
  content: '';
  position: absolute;
  right: -10px;
  top: 0;
  bottom: 0;
  width: 5px;
  background: var(--ink);
}
.working .layer {
  opacity: 0.72;
}
.ground {
  border-top: 2px solid var(--ink);
  margin: 6px -10px;
}
.sum {
  padding: 8px 0 10px;
  color: var(--ink2);
  font-size: 12px;
}
.sum .plain {
  font-size: 12px;
  line-height: 14px;
  color: var(--ink2);
}
.sum .plain:hover {
  color: var(--ink);
  text-decoration: underline;
}
</style>
