<script setup lang="ts">
import { computed } from 'vue'
import { Checkbox } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import TextBox from '@/components/TextBox.vue'
import type { CheckOption } from '@/api/types'
import { readOption, showOption } from '@/logic/options'

const props = defineProps<{ option: CheckOption; locked: boolean }>()
const value = defineModel<unknown>({ required: true })

const hint = computed(() => `such as ${showOption(props.option.kind, props.option.example)}`)
const choice = computed(() => value.value as string | undefined)
const typed = computed(() => showOption(props.option.kind, value.value))
</script>

<template>
  <label :title="option.words">
    {{ option.label }}
    <Checkbox
      v-if="option.kind === 'flag'"
      :aria-label="option.label"
      :checked="value === true"
      :disabled="locked"
      @change="value = !value"
    />
    <ChooseOne
      v-else-if="option.kind === 'choice'"
      :model-value="choice ?? null"
      :disabled="locked"
      :options="option.choices.map((name) => ({ value: name, label: name }))"
      :label="option.label"
      @update:model-value="(chosen) => (value = chosen)"
    />
    <TextBox
      v-else
      class="box"
      :model-value="typed"
      :disabled="locked"
      :placeholder="hint"
      @change="
        (event: Event) =>
          (value = readOption(option.kind, (event.target as HTMLInputElement).value.trim()))
      "
    />
  </label>
</template>

<style scoped>
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}

.choice {
  min-width: 120px;
}
</style>
