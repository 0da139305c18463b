<script setup lang="ts">
import { Modal } from 'ant-design-vue'
import type { Account } from '@/api/types'
import { standing } from '@/logic/accounts'
import { counted, momentInFull } from '@/logic/words'

/** How somebody signs in, and where they are signed in now. */
const props = defineProps<{ account: Account }>()
const emit = defineEmits<{ signOut: []; noSecond: [] }>()
function askNoSecond(): void {
  Modal.confirm({
    title: `Switch the second step of ${props.account.name} off`,
    content:
      'They sign in with their password alone until they set one up again. Do it when they lost ' +
      'their app and their recovery codes, and when you are sure that it is they who ask.',
    okText: 'Switch it off',
    cancelText: 'Cancel',
    onOk: () => emit('noSecond'),
  })
}
</script>

<template>
  <div>
    <h3>Signs in</h3>
    <dl>
      <div>
        <dt>Password</dt>
        <dd>
          {{
            account.password_at
              ? `chosen ${momentInFull(account.password_at)}`
              : account.has_password
                ? 'chosen'
                : standing(account)
          }}
        </dd>
      </div>
      <div>
        <dt>Second step</dt>
        <dd>
          {{ account.second_step ? 'app code ✓' : 'none' }}
          <button v-if="account.second_step && !account.is_you" class="link" @click="askNoSecond">
            switch off
          </button>
        </dd>
      </div>
      <div>
        <dt>Last here</dt>
        <dd>{{ account.seen_at ? momentInFull(account.seen_at) : 'never' }}</dd>
      </div>
      <div>
        <dt>Here now</dt>
        <dd>
          {{ account.sessions ? counted(account.sessions, 'browser') : 'nowhere' }}
          <button v-if="account.sessions && !account.is_you" class="link" @click="emit('signOut')">
            sign out
          </button>
        </dd>
      </div>
    </dl>
  </div>
</template>

<style scoped>
h3 {
  margin: 16px 0 6px;
}
dl div {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 4px 0;
  border-bottom: 1px solid var(--drift);
}
dd {
  text-align: right;
}
</style>
