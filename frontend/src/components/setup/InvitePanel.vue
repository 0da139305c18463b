<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue'
import LinkBox from './LinkBox.vue'
import MayForm from './MayForm.vue'
import { inviteAccount } from '@/api/accounts'
import type { AccountIn, LinkMade, Roster } from '@/api/types'
import { NOBODY, signInFor } from '@/logic/accounts'

/** Somebody is invited: an account without a password, and a link by which they choose one. */
defineProps<{ rosters: Roster[] }>()
const emit = defineEmits<{ close: []; done: [] }>()

const signIn = ref('')
const link = ref<LinkMade | null>(null)
const invited = ref('')
const problem = ref('')
const busy = ref(false)

const panel = useTemplateRef('panel')
onMounted(() => panel.value?.querySelector('input')?.focus())

async function invite(may: AccountIn): Promise<void> {
  busy.value = true
  try {
    link.value = await inviteAccount(signIn.value.trim() || signInFor(may.name), may)
    invited.value = may.name
    problem.value = ''
    emit('done')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <aside ref="panel" class="side" aria-label="Invite somebody">
    <div class="top">
      <h2>Invite somebody</h2>
      <button class="btn" @click="emit('close')">Close <kbd>Esc</kbd></button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <LinkBox v-if="link" :link="link" :name="invited" />
    <MayForm
      v-else
      :start="NOBODY"
      :rosters="rosters"
      act="Make the invitation"
      :busy="busy"
      @done="invite"
    >
      <label class="line">
        <span>Sign-in name</span>
        <input v-model="signIn" class="box" maxlength="80" placeholder="from the name" />
      </label>
    </MayForm>
  </aside>
</template>

<style scoped src="./panel.css"></style>
<style scoped>
.line {
  width: 100%;
  display: grid;
  grid-template-columns: 116px 1fr;
  gap: 8px;
  align-items: center;
}
.box {
  width: 100%;
}
</style>
