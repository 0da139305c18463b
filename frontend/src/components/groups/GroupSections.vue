<script setup lang="ts">
import { computed, ref } from 'vue'
import Vessel from './Vessel.vue'
import type { Group, Groups } from '@/api/types'
import { keyOf } from '@/composables/useMoves'
import { counted } from '@/logic/words'

/** The groups that are shown, part by part, filled as far as they are. */
const props = defineProps<{
  groups: Groups
  shown: Group[]
  parts: string[]
  chosen: string
  gets: Map<string, number>
  loses: Map<string, number>
}>()
const emit = defineEmits<{ open: [key: string]; drop: [event: DragEvent, group: Group] }>()

const FEW = 14 // groups that are drawn large
const over = ref('')
const sections = computed(() =>
  props.parts
    .map((name) => ({ name, groups: props.shown.filter((one) => one.part === name) }))
    .filter((one) => one.groups.length)
    .map((one) => ({ ...one, people: one.groups.reduce((sum, each) => sum + each.size, 0) })),
)
const isTall = computed(() => props.shown.length <= FEW)
const scale = computed(
  () =>
    Math.max(
      props.groups.most * 1.25,
      ...props.groups.groups.map((one) => one.size + (props.gets.get(keyOf(one)) ?? 0)),
      1,
    ) * 1.05,
)
const said = (group: Group) =>
  [
    group.weight === null ? '' : `weight ${group.weight}`,
    group.leads.length ? `lead ${group.leads.join(' and ')}` : '',
    group.ages,
  ].filter(Boolean)

function drop(event: DragEvent, group: Group): void {
  over.value = ''
  emit('drop', event, group)
}
</script>

<template>
  <section v-for="one in sections" :key="one.name">
    <h3 v-if="parts.length > 1">
      {{ one.name }}
      <span class="soft"
        >{{ counted(one.groups.length, 'group') }} ·
        {{ counted(one.people, 'person', 'people') }}</span
      >
    </h3>
    <div class="vessels" :class="{ tall: isTall }">
      <button
        v-for="each in one.groups"
        :key="keyOf(each)"
        class="plain"
        :class="{ on: keyOf(each) === chosen, over: over === keyOf(each) }"
        :aria-pressed="keyOf(each) === chosen"
        @click="emit('open', keyOf(each))"
        @dragover.prevent="over = keyOf(each)"
        @dragleave="over = ''"
        @drop.prevent.stop="(event) => drop(event, each)"
      >
        <Vessel
          :label="each.label"
          :size="each.size"
          :least="groups.least"
          :most="groups.most"
          :scale="scale"
          :gets="gets.get(keyOf(each))"
          :loses="loses.get(keyOf(each))"
          :troubles="each.troubles"
          :said="said(each)"
          :tall="isTall"
        />
      </button>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-top: 14px;
}
h3 {
  margin-bottom: 8px;
}
h3 .soft {
  font-weight: 400;
  margin-left: 8px;
}
.vessels {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(92px, 1fr));
  gap: 12px;
  align-items: start;
}
.vessels.tall {
  grid-template-columns: repeat(auto-fill, minmax(118px, 1fr));
  gap: 14px;
}
.plain {
  padding: 3px;
  min-width: 0;
}
.plain.on {
  box-shadow: 0 0 0 2px var(--fir);
  background: var(--row-on);
}
.plain.over {
  background: var(--new-soft);
}
</style>
