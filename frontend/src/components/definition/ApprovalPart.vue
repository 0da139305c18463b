<script setup lang="ts">
import { Checkbox, InputNumber } from 'ant-design-vue'
import { type Approval } from '@/logic/knownBy'

/** When somebody else has to approve before the roster is altered. */
defineProps<{ locked: boolean }>()
const value = defineModel<Approval>({ required: true })

const change = (part: Approval) => (value.value = { ...value.value, ...part })
const number = (given: unknown) => (given === null || given === '' ? undefined : Number(given))
</script>

<template>
  <section>
    <h2>When somebody else has to approve</h2>
    <p class="line">
      from
      <InputNumber
        :value="value.from"
        :min="1"
        :precision="0"
        :disabled="locked"
        placeholder="never"
        aria-label="Altered records from which a second person has to approve"
        @change="(given) => change({ from: number(given) })"
      />
      altered records on; 1 is for every change
    </p>
    <Checkbox
      :checked="!!value.raising"
      :disabled="locked"
      @change="change({ raising: !value.raising })"
      >whenever somebody gains a privilege above the lowest</Checkbox
    >
  </section>
</template>
