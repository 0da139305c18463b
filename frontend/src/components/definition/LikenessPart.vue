<script setup lang="ts">
import { Checkbox, InputNumber } from 'ant-design-vue'
import { CERTAIN, NOBODY, type Likeness } from '@/logic/knownBy'

/** Who a row is where no key says it: from which scores on likeness does. */
defineProps<{ locked: boolean }>()
const value = defineModel<Likeness>({ required: true })

const change = (part: Likeness) => (value.value = { ...value.value, ...part })
const number = (given: unknown) => (given === null || given === '' ? undefined : Number(given))
</script>

<template>
  <section>
    <h2>Where no key says who it is</h2>
    <Checkbox :checked="!value.off" :disabled="locked" @change="change({ off: !value.off })"
      >ask likeness: names, days of birth, addresses</Checkbox
    >
    <p v-if="!value.off" class="line">
      settled by itself from
      <InputNumber
        :value="value.certain ?? CERTAIN"
        :min="50"
        :max="100"
        :disabled="locked"
        aria-label="Score from which likeness settles who it is"
        @change="(given) => change({ certain: number(given) })"
      />
      on; taken for somebody new up to
      <InputNumber
        :value="value.nobody ?? NOBODY"
        :min="0"
        :max="50"
        :disabled="locked"
        aria-label="Score up to which a row is somebody new"
        @change="(given) => change({ nobody: number(given) })"
      />; between them it is asked. A score goes from 0 to 100.
    </p>
  </section>
</template>
