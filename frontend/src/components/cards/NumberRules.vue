<script setup lang="ts">
import { InputNumber } from 'ant-design-vue'
import { written, type Numbering } from '@/logic/design'

/** How numbers of cards are written, how long they rest, and when it is said that few are left. */
defineProps<{ numbering: Numbering; first: number; may: boolean }>()
const emit = defineEmits<{ put: [next: Partial<Numbering>] }>()
const number = (given: unknown) => (typeof given === 'number' ? given : undefined)
</script>

<template>
  <p class="written">
    A number is written with
    <input
      class="box"
      :value="numbering.before ?? ''"
      placeholder="nothing"
      maxlength="20"
      :disabled="!may"
      aria-label="What stands before a number"
      @change="emit('put', { before: ($event.target as HTMLInputElement).value || undefined })"
    />
    before it, and zeros up to
    <InputNumber
      :value="numbering.digits ?? 0"
      :min="0"
      :max="18"
      :precision="0"
      :disabled="!may"
      aria-label="Digits of a number"
      @change="(given) => emit('put', { digits: number(given) || undefined })"
    />
    digits, as in <b class="mono">{{ written(first, numbering) }}</b>
  </p>
  <p class="rest">
    A number is not given again for
    <InputNumber
      :value="numbering.rests ?? 365"
      :min="0"
      :max="36500"
      :precision="0"
      :disabled="!may"
      aria-label="Days before a number is given again"
      @change="(given) => emit('put', { rests: number(given) })"
    />
    days after its card left the register; that few are left is said from
    <InputNumber
      :value="numbering.warns ?? 50"
      :min="0"
      :precision="0"
      :disabled="!may"
      aria-label="From how few left on it is said"
      @change="(given) => emit('put', { warns: number(given) })"
    />
    on.
  </p>
</template>

<style scoped>
.written {
  margin: 16px 0 8px;
}
.written .box {
  width: 190px;
}
.rest {
  margin: 8px 0 22px;
}
</style>
