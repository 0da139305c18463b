<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal } from 'ant-design-vue'
import type { KeyChoice, Step, Takes } from '@/api/types'
import { howOf, raise, stepsFor, type How } from '@/logic/known'
import { counted } from '@/logic/words'

const props = defineProps<{
  open: boolean
  roster: string
  source: string
  keys: KeyChoice[]
  own: boolean
  takes: Takes
}>()
const emit = defineEmits<{ done: [steps: Step[]]; close: [] }>()

const how = ref<How>('own')
const order = ref<KeyChoice[]>([])
const ticked = ref(new Set<string>())
const whom = ref<Takes>('both')
const chosen = computed(() => order.value.filter((one) => ticked.value.has(one.title)))
const isRight = computed(() => how.value !== 'these' || chosen.value.length > 0)

watch(
  () => props.open,
  (open) => {
    if (!open) return
    order.value = [...props.keys]
    ticked.value = new Set(props.keys.filter((one) => one.used).map((one) => one.title))
    how.value = howOf(props.keys, props.own)
    whom.value = props.takes
  },
  { immediate: true },
)

function tick(title: string): void {
  const now = new Set(ticked.value)
  if (!now.delete(title)) now.add(title)
  ticked.value = now
  how.value = 'these'
}

function up(place: number): void {
  order.value = raise(order.value, place)
  how.value = 'these'
}
const done = () => emit('done', stepsFor(props, how.value, chosen.value, whom.value))
</script>

<template>
  <Modal
    destroy-on-close
    :open="open"
    title="What people are known by in this file"
    :footer="null"
    :width="560"
    @cancel="emit('close')"
  >
    <fieldset>
      <label><input v-model="how" type="radio" value="own" /> as {{ roster }} has it</label>
      <label
        ><input v-model="how" type="radio" value="these" /> by these, the first that finds somebody
        decides</label
      >
      <ol class="keys">
        <li v-for="(one, place) in order" :key="one.title" :class="{ soft: how !== 'these' }">
          <label
            ><input type="checkbox" :checked="ticked.has(one.title)" @change="tick(one.title)" />
            {{ one.title }}</label
          >
          <span class="soft">{{
            one.in_file
              ? one.used
                ? `${counted(one.rows, 'row')} known by it`
                : ''
              : 'not in this file'
          }}</span>
          <span class="grow" />
          <button
            v-if="place"
            type="button"
            class="btn"
            :aria-label="`Up: ${one.title} before ${order[place - 1]?.title}`"
            @click="up(place)"
          >
            Up
          </button>
        </li>
      </ol>
      <label
        ><input v-model="how" type="radio" value="likeness" /> by likeness alone: no number in the
        file is trusted</label
      >
    </fieldset>
    <fieldset>
      <legend>The file</legend>
      <label><input v-model="whom" type="radio" value="both" /> adds people and changes them</label>
      <label
        ><input v-model="whom" type="radio" value="new" /> only adds: rows of people in
        {{ roster }} are left out</label
      >
      <label
        ><input v-model="whom" type="radio" value="known" /> only changes: rows of people who are
        nobody there are left out</label
      >
    </fieldset>
    <p v-if="source" class="soft">
      It is remembered for the next files of {{ source }} when this one is applied.
    </p>
    <p class="do">
      <button class="btn main" :disabled="!isRight" @click="done">Use this</button>
      <button class="btn" @click="emit('close')">Cancel</button>
    </p>
  </Modal>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 10px 0 14px;
}
legend {
  font-weight: 600;
  padding: 0;
  margin-bottom: 2px;
}
label {
  display: block;
  line-height: 26px;
}
.keys {
  list-style: none;
  margin: 2px 0 6px 22px;
  padding: 0;
  max-height: 240px;
  overflow: auto;
}
.keys li {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 32px;
  border-bottom: 1px solid var(--drift);
}
.do {
  margin-top: 14px;
}
</style>
