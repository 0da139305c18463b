<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { SecondBegun } from '@/api/types'

/** An app takes the secret in, and shows that it has it by a first code. */
defineProps<{ begun: SecondBegun; busy: boolean }>()
const emit = defineEmits<{ done: [code: string]; cancel: [] }>()
const code = ref('')
const box = ref<HTMLInputElement>()
onMounted(() => box.value?.focus())
</script>

<template>
  <form class="begun" @submit.prevent="emit('done', code)">
    <img
      :src="`data:image/svg+xml,${encodeURIComponent(begun.picture)}`"
      alt="A square code with the secret for your app; it stands beside it in letters too"
      width="180"
      height="180"
    />
    <div>
      <p>
        Take the square code with an app for time-based codes, or type this into it:
        <b class="mono secret">{{ begun.secret.replace(/(.{4})/g, '$1 ').trim() }}</b>
      </p>
      <label
        >The six digits that it shows now
        <input
          ref="box"
          v-model="code"
          class="box mono"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="7"
          required
      /></label>
      <p class="do">
        <button class="btn main" :disabled="busy || !code">It works</button>
        <button type="button" class="btn" @click="emit('cancel')">Cancel</button>
      </p>
    </div>
  </form>
</template>

<style scoped>
.begun {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
}
.begun > div {
  flex: 1 1 260px;
}
img {
  background: #fff;
  border: 1px solid var(--line);
}
.secret {
  display: block;
  margin: 6px 0 12px;
}
.box {
  display: block;
  width: 200px;
  margin-top: 4px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
