<script setup lang="ts">
import { ref } from 'vue'
import { Modal } from 'ant-design-vue'
import DayField from '@/components/controls/DayField.vue'
import type { Program } from '@/api/types'
import { day, momentInFull } from '@/logic/words'

/** The tokens of a program: ended, and made anew. */
defineProps<{ program: Program; busy: boolean }>()
const emit = defineEmits<{ end: [token: number]; make: [until: string | null] }>()
const until = ref('')
function ask(token: number): void {
  Modal.confirm({
    title: 'End this token',
    content: 'Whatever asks by it is refused from the next request on.',
    okText: 'End it',
    cancelText: 'Cancel',
    onOk: () => emit('end', token),
  })
}
</script>

<template>
  <div>
    <h3>Tokens</h3>
    <ul>
      <li v-for="token in program.tokens" :key="token.id" :class="{ soft: !token.counts }">
        <span
          >made {{ day(token.made_at.slice(0, 10)) }}{{ token.by ? ` by ${token.by}` : '' }},
          {{ token.used_at ? `last used ${momentInFull(token.used_at)}` : 'never used'
          }}{{ token.last_day ? `, until ${day(token.last_day)}` : '' }}</span
        >
        <button v-if="token.counts" class="link" :disabled="busy" @click="ask(token.id)">
          end it
        </button>
        <span v-else>counts no more</span>
      </li>
    </ul>
    <p v-if="!program.account.is_closed" class="make">
      <DayField v-model="until" label="Last day of the token" placeholder="no end" />
      <button class="btn" :disabled="busy" @click="emit('make', until || null)">
        Make another token
      </button>
    </p>
  </div>
</template>

<style scoped>
h3 {
  margin: 16px 0 6px;
}
ul {
  padding: 0;
  list-style: none;
}
.make {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
