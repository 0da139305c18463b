<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import CodeChoice from './CodeChoice.vue'
import type { Field, Fill, Step } from '@/api/types'
import { count, counted } from '@/logic/words'

const props = defineProps<{
  fill: Fill | null
  name: string
  field: Field | undefined
  locked: boolean
}>()
const emit = defineEmits<{ step: [step: Step] }>()
const text = ref(props.fill?.value ?? '')
const label = computed(
  () => `Value for ${props.field?.title ?? props.name} where the file has nothing`,
)
/** What it does, in numbers. */
const said = computed(() => {
  const fill = props.fill
  if (!fill) return ''
  const who = fill.joining ? `, ${count(fill.joining)} of them new` : ''
  const kept = fill.kept
    ? `; ${counted(fill.kept, 'person keeps', 'people keep')} what the roster has`
    : ''
  return `fills ${counted(fill.fills, 'row')}${who}${kept}`
})

function put(value: string, over = props.fill?.over ?? false): void {
  if (value === (props.fill?.value ?? '') && over === (props.fill?.over ?? false)) return
  emit('step', { kind: 'fill', field: props.name, value, over })
}

watch(
  () => props.fill?.value,
  (now) => (text.value = now ?? ''),
)
</script>

<template>
  <span class="fill">
    <CodeChoice
      v-if="field?.code_list && !field.several"
      :list="field.code_list"
      :value="fill?.value || null"
      :locked="locked"
      :label="label"
      none="nothing"
      current
      @chosen="put"
    />
    <input
      v-else
      v-model="text"
      class="box"
      :disabled="locked"
      :aria-label="label"
      placeholder="nothing"
      @change="put(text.trim())"
    />
    <template v-if="fill">
      <span class="soft">{{ said }}</span>
      <label v-if="fill.kept || fill.over">
        <input
          type="checkbox"
          :checked="fill.over"
          :disabled="locked"
          @change="put(fill.value, ($event.target as HTMLInputElement).checked)"
        />
        for them too
      </label>
      <button class="link" :disabled="locked" @click="put('', false)">Fill no more</button>
    </template>
    <slot v-else />
  </span>
</template>

<style scoped>
.fill {
  display: flex;
  gap: 10px;
  align-items: center;
  font-size: 13px;
  min-width: 0;
}
.box {
  width: 158px;
  flex: none;
}
.soft {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
label {
  display: flex;
  gap: 4px;
  align-items: center;
  white-space: nowrap;
}
</style>
