<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { useElementSize } from '@vueuse/core'
import { clockTime } from '@/logic/clock'
import { BAR, drawOverTime, type Moment } from '@/logic/overtime'
import { count, day } from '@/logic/words'

/** Who joined and left with each change set, where it was in time; each bar opens its receipt. */
const props = defineProps<{ moments: Moment[]; pointed: number }>()
const emit = defineEmits<{ point: [id: number] }>()
const HALF = 96 // of the drawing, upwards; downwards there is less to show
const DOWN = 60
const { width } = useElementSize(useTemplateRef('paper'), { width: 900, height: 0 })
const room = computed(() => width.value - 2)
/** Of more bars than the page has room for the last are drawn; the table beneath has all. */
const shown = computed(() => props.moments.slice(-Math.max(1, Math.floor(room.value / BAR))))
const drawn = computed(() => drawOverTime(shown.value, room.value, HALF - 16, DOWN - 4))
const dayOf = (at: string) => clockTime(new Date(at)).day
const did = (one: { joined: number; left: number; changed: number }) =>
  [
    one.joined && `${count(one.joined)} joined`,
    one.left && `${count(one.left)} left`,
    one.changed && `${count(one.changed)} changed`,
  ]
    .filter(Boolean)
    .join(', ') || 'nothing altered'
</script>

<template>
  <figure ref="paper">
    <div class="paper" :style="{ height: `${HALF + DOWN}px`, width: `${room}px` }">
      <RouterLink
        v-for="one in drawn"
        :key="one.id"
        class="bar"
        :class="{ undone: one.undone, on: one.id === pointed }"
        :to="`/receipts/${one.id}`"
        :style="{ left: `${one.x}px` }"
        :aria-label="`${one.title}, ${day(dayOf(one.at))}: ${did(one)}; ${count(one.size)} then`"
        @mouseenter="emit('point', one.id)"
        @focus="emit('point', one.id)"
      >
        <i v-if="one.changed" class="changed" :style="{ top: `${HALF - 2}px` }" />
        <i class="up" :style="{ height: `${one.up}px`, bottom: `${DOWN}px` }" />
        <i class="down" :style="{ height: `${one.down}px`, top: `${HALF}px` }" />
      </RouterLink>
      <span class="ground" :style="{ top: `${HALF}px` }" />
    </div>
    <p v-if="shown.length > 1" class="soft small ends" aria-hidden="true">
      <span>{{ day(dayOf(shown[0]!.at)) }}</span><span>{{ day(dayOf(shown.at(-1)!.at)) }}</span>
    </p>
    <figcaption class="soft">
      <span class="key"><i class="up" /> joined</span>
      <span class="key"><i class="changed" /> changed</span>
      <span class="key"><i class="down" /> left</span>
      Each bar is a receipt, where it was in time; heights by the square root of the number.
      <template v-if="shown.length < moments.length"
        >The last {{ shown.length }} of {{ moments.length }}.</template
      >
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 16px 0 20px;
  overflow: hidden;
}
.paper {
  position: relative;
}
.bar {
  position: absolute;
  top: 0;
  bottom: 0;
  width: 24px;
}
.bar i {
  position: absolute;
  left: 5px;
  width: 14px;
}
.bar.on {
  background: var(--row-on);
}
.up {
  background: var(--new);
}
.down {
  border: 1px solid var(--absent);
  background: var(--paper);
}
.changed {
  height: 6px;
  background: var(--changed);
  z-index: 1;
}
.ends {
  display: flex;
  justify-content: space-between;
  margin-bottom: 8px;
}
.undone i {
  opacity: 0.45;
}
.ground {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 2px solid var(--ink);
}
.key {
  margin-right: 14px;
}
.key i {
  display: inline-block;
  width: 10px;
  height: 10px;
}
</style>
