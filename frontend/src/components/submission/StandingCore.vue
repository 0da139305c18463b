<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import type { Submission } from '@/api/types'
import { STANDING_WORDS, standingLayers, standingsAddUp } from '@/logic/standing'
import { count, counted, day } from '@/logic/words'

const props = defineProps<{ submission: Submission; selected: string }>()
const emit = defineEmits<{ open: [state: string] }>()

const body = ref<HTMLElement>()
const height = ref(500)
const drawn = computed(() => standingLayers(props.submission.tally, height.value))
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
  <aside class="core no-print" aria-label="Tally">
    <button class="plain read" :class="{ on: selected === 'all' }" @click="emit('open', 'all')">
      <b>{{ count(submission.tally.records) }}</b> records in it
    </button>
    <div ref="body" class="body">
      <button
        v-for="layer in drawn"
        :key="layer.state"
        class="layer"
        :class="[`s-${layer.state}`, { on: selected === layer.state }]"
        :style="{ height: `${layer.height}px` }"
        :aria-pressed="selected === layer.state"
        @click="emit('open', layer.state)"
      >
        <b>{{ count(layer.count) }}</b>{{ STANDING_WORDS[layer.state] }}
      </button>
      <div class="ground" />
      <button
        class="layer l-left_out"
        :class="{ on: selected === 'not_sent' }"
        :aria-pressed="selected === 'not_sent'"
        @click="emit('open', 'not_sent')"
      >
        <b>{{ count(submission.tally.not_sent) }}</b>{{
          submission.on_way ? 'no answer yet' : 'not sent'
        }}<span v-if="submission.on_way" class="way"
          >{{ count(submission.on_way) }} on their way</span
        >
      </button>
    </div>
    <p class="sum" role="status">
      <template v-if="standingsAddUp(submission.tally)">adds up ✓</template
      ><b v-else class="bad">does not add up</b>
      <template v-if="submission.due"
        ><br />due {{ day(submission.due) }},<br /><b
          v-if="(submission.days_left ?? 0) < 0"
          class="bad"
          >{{ counted(-(submission.days_left ?? 0), 'day') }} over</b
        ><template v-else>{{ counted(submission.days_left ?? 0, 'day') }} left</template></template
      >
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
  border: 0;
  text-align: left;
}
.layer.l-left_out {
  border: 1px dashed var(--ink3);
}
.layer b {
  font-size: 15px;
  font-weight: 600;
  line-height: 16px;
}
.s-accepted {
  background: var(--accepted);
  color: var(--ink);
}
.s-to_number {
  background:
    linear-gradient(90deg, var(--waiting-edge) 0 4px, transparent 4px), var(--waiting-fill);
  color: var(--ink);
  padding-left: 10px;
}
.s-ready {
  background: repeating-linear-gradient(
    0deg,
    var(--ready) 0 6px,
    color-mix(in srgb, var(--ready) 88%, #000) 6px 8px
  );
  color: #fff;
}
.s-rejected {
  background: var(--stopped);
  color: #fff;
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
.way {
  margin-top: 3px;
  color: var(--ink2);
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
</style>
