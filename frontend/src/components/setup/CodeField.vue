<script setup lang="ts">
import { ref } from 'vue'

/** The code of the second step, or a recovery code. */
const code = defineModel<string>({ required: true })
const box = ref<HTMLInputElement>()
defineExpose({ focus: () => box.value?.focus() })
</script>

<template>
  <label
    >Code
    <input
      ref="box"
      v-model="code"
      class="box mono"
      autocomplete="one-time-code"
      maxlength="40"
      aria-describedby="code-words"
      required
    /><span id="code-words" class="soft"
      >The six digits that your app shows, or one of your recovery codes.</span
    ></label
  >
</template>

<style scoped>
label {
  display: block;
  margin-top: 16px;
  font-weight: 600;
}
.box {
  display: block;
  width: 100%;
  height: 34px;
  margin-top: 4px;
  font-size: 15px;
  font-weight: 400;
}
.soft {
  display: block;
  margin-top: 4px;
  font-size: 13px;
  font-weight: 400;
}
</style>
