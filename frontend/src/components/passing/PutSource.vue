<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { FieldDocument } from '@/api/types'
import { byTitle } from '@/logic/choices'
import { addPiece, blankPattern, sayPattern } from '@/logic/pattern'
import type { Put } from '@/logic/passing'

/** What goes into a field of theirs: one of ours, several put together, the same for everybody. */
const props = defineProps<{ fields: FieldDocument[] }>()
const put = defineModel<Put>({ required: true })
/** Whether the pieces are shown. */
const open = defineModel<boolean>('open', { required: true })

const COMPOSED = ' composed'
const FILL = ' fill'
const choices = computed(() => [
  ...byTitle(props.fields),
  { value: COMPOSED, label: 'composed of several …' },
  { value: FILL, label: 'the same for everybody …' },
])
const source = computed(() =>
  put.value.pattern ? COMPOSED : put.value.from ? put.value.from : FILL,
)
const titleOf = (name: string) => props.fields.find((one) => one.name === name)?.title || name
const names = computed(() =>
  put.value.pattern
    ? put.value.pattern.pieces.map((piece) => piece.field ?? '')
    : [put.value.from ?? ''],
)
const kept = computed(() =>
  props.fields.some(
    (one) =>
      names.value.includes(one.name) &&
      (one as unknown as { nevefield?: { sensitive?: boolean } }).nevefield?.sensitive,
  ),
)
const set = (next: Partial<Put>) => (put.value = { ...put.value, ...next })
const text = (value: unknown) => String(value)
function choose(name: string | null): void {
  const rest: Put = { ...put.value }
  delete rest.from
  delete rest.fill
  delete rest.pattern
  open.value = name === COMPOSED
  if (name === COMPOSED)
    put.value = {
      ...rest,
      pattern: addPiece(blankPattern(), { field: props.fields[0]?.name ?? '' }),
    }
  else if (name === FILL) put.value = { ...rest, fill: '' }
  else put.value = { ...rest, from: name ?? '' }
}
</script>

<template>
  <ChooseOne
    :model-value="source"
    :options="choices"
    :label="`What goes into ${put.to}`"
    @update:model-value="choose"
  />
  <button v-if="put.pattern" class="link small" :aria-expanded="open" @click="open = !open">
    {{ sayPattern(put.pattern, titleOf) }}
  </button>
  <TextBox
    v-if="source === FILL"
    class="box"
    :model-value="put.fill ?? ''"
    maxlength="400"
    :aria-label="`Everybody’s ${put.to}`"
    @update:model-value="(fill) => set({ fill: text(fill) })"
  />
  <TextBox
    v-if="kept"
    class="box wide"
    :model-value="put.because ?? ''"
    maxlength="400"
    placeholder="is kept here: why it leaves"
    :aria-label="`Why ${put.to} leaves although it is kept`"
    @update:model-value="(because) => set({ because: text(because) })"
  />
</template>

<style scoped>
.wide {
  width: 100%;
}
.link {
  display: block;
  min-height: 24px;
  text-align: left;
}
</style>
