<template>
  <div class="empty" style="margin: auto">
    <h2>There is nothing at this address</h2>
    <p>The link may be cut off, or what it named was never there.</p>
    <RouterLink to="/" class="btn fir">Go to the desk</RouterLink>
  </div>
</template>
