<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '@/composables/useSession'

const route = useRoute()
const router = useRouter()
const session = useSession()
const name = ref('')
const password = ref('')
const problem = ref('')
const working = ref(false)
const first = ref<HTMLInputElement>()

async function begin(): Promise<void> {
  if (working.value) return
  working.value = true
  problem.value = ''
  try {
    await session.begin(name.value.trim(), password.value)
    const to = String(route.query.to ?? '/')
    await router.push(to.startsWith('/') && !to.startsWith('//') ? to : '/')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    password.value = ''
  } finally {
    working.value = false
  }
}

onMounted(() => first.value?.focus())
</script>

<template>
  <section class="sign-in">
    <div class="sample" aria-hidden="true"><i class="l-new" /><i class="l-changed" /><i class="l-same" /><i class="l-waiting" /><i class="l-stopped" /><i class="l-held" /><i class="ground" /><i class="l-absent" /></div>
    <form @submit.prevent="begin">
      <h1>Nevefield</h1>
      <p class="soft">The desk of whoever keeps the rosters true.</p>
      <label>Sign-in name <input ref="first" v-model="name" class="box" autocomplete="username" required /></label>
      <label>Password <input v-model="password" class="box" type="password" autocomplete="current-password" required /></label>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="working">{{ working ? 'Signing in …' : 'Sign in' }}</button>
    </form>
  </section>
</template>

<style scoped>
.sign-in { margin: auto; display: flex; gap: 44px; align-items: stretch; }
.sample { width: 72px; display: flex; flex-direction: column; }
.sample i { display: block; margin-bottom: 2px; height: 14px; }
.sample .l-new { flex: 5; } .sample .l-changed { flex: 1; } .sample .l-same { flex: 2; }
.sample .ground { height: 2px; background: var(--ink); margin: 4px -10px 6px; }
form { width: 300px; padding: 10px 0; }
h1 { font-size: 26px; line-height: 32px; font-weight: 600; }
label { display: block; margin-top: 16px; font-weight: 600; }
label .box { display: block; width: 100%; height: 34px; margin-top: 4px; font-size: 15px; font-weight: 400; }
.flag { margin-top: 14px; }
.btn { margin-top: 18px; padding: 6px 18px; font-size: 14px; }
</style>
