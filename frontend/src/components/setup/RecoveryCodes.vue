<script setup lang="ts">
import { message } from 'ant-design-vue'

/** Recovery codes are shown once: they stand in for an app that is lost. */
const props = defineProps<{ codes: string[] }>()
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(props.codes.join('\n')).then(
    () => message.success('The codes are copied.', 3),
    () => message.error('This browser did not copy them: mark them, and copy them by hand.', 6),
  )
}
</script>

<template>
  <div class="flag" role="status">
    <p>
      <b>Keep these recovery codes</b> where your phone is not. Each lets you in once when you do
      not have your app. They are shown this once.
    </p>
    <ul class="mono">
      <li v-for="code in codes" :key="code">{{ code }}</li>
    </ul>
    <button class="btn" @click="copy">Copy them</button>
  </div>
</template>

<style scoped>
ul {
  columns: 2;
  width: 260px;
  margin: 8px 0 10px;
  padding: 0;
  list-style: none;
}
</style>
