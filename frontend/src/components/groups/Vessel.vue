<script setup lang="ts">
import { computed } from 'vue'
import { count } from '@/logic/words'

/** A group as a vessel: how full it is against its least and most. */
const props = defineProps<{
  label: string
  size: number
  least: number
  most: number
  scale: number
  gets?: number
  loses?: number
  troubles: string[]
  said: string[]
  tall?: boolean
}>()

const part = (number: number) => `${Math.min(100, (100 * number) / props.scale)}%`
const stays = computed(() => props.size - (props.loses ?? 0))
const after = computed(() => stays.value + (props.gets ?? 0))
const change = computed(() =>
  [props.gets ? `+ ${props.gets}` : '', props.loses ? `− ${props.loses}` : '']
    .filter(Boolean)
    .join(' '),
)
</script>

<template>
  <span class="vessel" :class="{ tall }">
    <span
      class="glass"
      role="img"
      :aria-label="`${label}: ${after} people${most ? `, at most ${most}` : ''}${least ? `, at least ${least}` : ''}`"
    >
      <span class="fill" :style="{ height: part(stays) }" />
      <span v-if="gets" class="gets" :style="{ height: part(gets), bottom: part(stays) }" />
      <span v-if="most" class="mark" :style="{ bottom: part(most) }"
        ><i>{{ most }}</i></span
      >
      <span v-if="least" class="mark" :style="{ bottom: part(least) }"
        ><i>{{ least }}</i></span
      >
      <span class="number"
        ><b>{{ count(size) }}</b> {{ change }}</span
      >
    </span>
    <b class="label">{{ label }}</b>
    <span v-for="one in said" :key="one" class="said" :title="one">{{ one }}</span>
    <span v-for="one in troubles" :key="one" class="said bad">{{ one }}</span>
  </span>
</template>

<style scoped>
.vessel {
  display: flex;
  flex-direction: column;
  min-width: 0;
  text-align: left;
}
.glass {
  position: relative;
  height: 92px;
  border: 1px solid var(--ink2);
  border-top: 0;
  background: var(--shade);
  display: block;
  overflow: hidden;
}
.tall .glass {
  height: 196px;
}
.fill {
  position: absolute;
  left: 0;
  right: 0;
  bottom: 0;
  background: var(--spark1);
  opacity: 0.8;
}
.gets {
  position: absolute;
  left: 0;
  right: 0;
  background: repeating-linear-gradient(45deg, var(--new) 0 5px, #6aa0cf 5px 10px);
}
.mark {
  position: absolute;
  left: 0;
  right: 0;
  border-top: 1px dashed var(--ink2);
}
.mark i {
  position: absolute;
  right: 4px;
  top: 1px;
  font: 12px/14px var(--text);
  font-style: normal;
  padding: 0 2px;
  color: var(--ink);
  background: var(--snow);
}
.number {
  position: absolute;
  left: 3px;
  bottom: 2px;
  padding: 0 4px;
  font-size: 13px;
  line-height: 20px;
  color: var(--ink);
  background: color-mix(in srgb, var(--snow) 78%, transparent);
  white-space: nowrap;
}
.number b {
  font-size: 17px;
}
.label {
  margin-top: 4px;
  line-height: 18px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.said {
  font-size: 12.5px;
  line-height: 16px;
  color: var(--ink2);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.tall .said {
  white-space: normal;
}
.said.bad {
  white-space: normal;
  color: var(--stopped-ink);
}
</style>
